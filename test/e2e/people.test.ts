import type { HTTPRequest } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Application, Desk, openApplication } from "../support/server";

/* People as an owner keeps them in the browser: an account, a rule on rows, a share; and a person's own account. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const PASSWORD = "a longer password";
async function signIn(login: string, password = PASSWORD): Promise<Desk> {
  const context = await app.browserOf(null);
  const desk = await new Desk(await context.newPage(), app.address).open("/sign-in");
  await desk.page.waitForSelector("input[name=username]");
  await desk.page.type("input[name=username]", login);
  await desk.page.type("input[name=password]", password);
  await desk.key("Enter");
  return desk;
}
/** Fills the field whose label begins with the words. */
const fill = async (desk: Desk, label: string, words: string) => {
  const field = await desk.page.waitForSelector(`label ::-p-xpath(//label[starts-with(normalize-space(.), "${label}")]//input)`);
  await field?.click({ count: 3 });
  await desk.page.keyboard.type(words);
};

describe("an owner", () => {
  it("makes an account, a rule on its rows through the brief, and a share; the person sees just that", async () => {
    const desk = await app.page("/people");
    await fill(desk, "Name", "Edda Moor");
    await fill(desk, "Sign-in name", "edda");
    await fill(desk, "Password, 10", PASSWORD);
    await fill(desk, "Name in the data", "Fish");
    await desk.click("Add account", "button");
    await desk.reads("table", "Edda Moor");

    await desk.click("Row rules", "[role=tab]");
    await desk.click("Add rule ▾");
    await desk.click("shipper", "button.menu-item");
    await desk.reads("[role=tabpanel]", "Without a condition the rule hides nothing.");
    await desk.page.evaluate(() => {
      const bare = [...document.querySelectorAll("section")].find(
        (s) => s.textContent?.includes("Without a condition") && s.querySelector("select") && !s.querySelector("section"),
      );
      bare?.setAttribute("data-bare", "");
    });
    const edda = await desk.page.$eval(`[data-bare] select`, (e) => [...(e as HTMLSelectElement).options].find((o) => o.text === "Edda Moor")?.value ?? "");
    // The first save takes long: what is changed meanwhile is saved after it.
    await desk.page.setRequestInterception(true);
    let saves = 0;
    const slowly = (request: HTTPRequest) => {
      const wait = request.method() === "PATCH" && saves++ === 0 ? 4000 : 0;
      void new Promise((done) => setTimeout(done, wait)).then(() => request.continue()).catch(() => {});
    };
    desk.page.on("request", slowly);
    const saving = desk.page.waitForRequest((request) => request.method() === "PATCH");
    await desk.page.select("[data-bare] select", edda);
    await saving;
    await desk.click("+ condition", "[data-bare] button");
    await desk.type("Find a field", "trade");
    await desk.click("trade", "button.menu-item");
    await desk.click("…", "p [role=button]");
    await desk.click("the signed-in person", "button.menu-item");
    await desk.reads("[role=tabpanel]", "trade is the signed-in person");
    await desk.page.waitForNetworkIdle({ idleTime: 1200 });
    desk.page.off("request", slowly);
    await desk.page.setRequestInterception(false);

    await desk.open("/queries/shippers-and-desks");
    await desk.click("Share ▾", "button");
    await desk.page.waitForSelector("label ::-p-text(Edda Moor)");
    const select = await desk.page.waitForSelector(`::-p-xpath(//label[contains(., "Edda Moor")]//select)`);
    await (select as unknown as { select: (v: string) => Promise<unknown> }).select("see");
    await new Promise((done) => setTimeout(done, 600));

    const theirs = await signIn("edda");
    await theirs.reads("header", "Edda Moor");
    await theirs.open("/queries/shippers-and-desks");
    const fish = app.sql("SELECT name FROM shipper WHERE trade = 'Fish' ORDER BY name") as [string][];
    await theirs.reads("[data-testid=status]", `${fish.length} rows`);
    for (const [name] of fish) await theirs.reads("[role=grid]", name);
    await theirs.open("/queries");
    expect(await theirs.text("main")).toContain("Shippers and their desks");
    expect(await theirs.text("main")).not.toContain("Freight by island");
    await theirs.page.browserContext().close();
    expect(desk.complaints).toEqual([]);
  });

  it("changes a role, bars and lets in again; the log tells", async () => {
    const desk = await app.page("/people");
    await desk.page.waitForSelector('[aria-label="Role of Mirela Strand"]');
    await desk.choose("Role of Mirela Strand", "viewer");
    await desk.reads("body", "Mirela Strand is now viewer.");
    await desk.choose("Role of Mirela Strand", "analyst");
    await desk.click("Block", "tr:has([aria-label='Role of Jorn Crane']) button");
    await desk.click("Unblock", "button");
    await desk.reads("body", "Jorn Crane can sign in again.");
    await desk.choose("Role of Ingrid Vale", "viewer");
    await desk.reads("body", "This is the only owner. Add another owner first.");
    await desk.open("/people");
    await desk.click("Log", "[role=tab]");
    await desk.reads("[role=tabpanel]", "changed an account Jorn Crane: blocked");
  });
});

describe("one's own account", () => {
  it("has its password changed, and is signed out everywhere", async () => {
    await app.fetch("/api/people", {
      method: "POST",
      body: JSON.stringify({ login: "orla", name: "Orla Reef", role: "analyst", knownAs: "", password: PASSWORD }),
    });
    const [here, there] = [await signIn("orla"), await signIn("orla")];
    await here.reads("header", "Orla Reef");
    await there.reads("header", "Orla Reef");
    await here.open("/me");
    await here.reads("main", "2 sessions.");
    await fill(here, "Current password", "not this one");
    await fill(here, "New password", "another password");
    await here.key("Enter");
    await here.reads("body", "The current password is wrong.");
    await fill(here, "Current password", PASSWORD);
    await here.key("Enter");
    await here.reads("body", "You are signed out on all other devices.");
    await there.open("/queries");
    await there.page.waitForSelector("input[name=username]");
    await here.open("/me");
    await here.reads("main", "1 session.");
    await here.click("Sign out on all devices", "button");
    await here.page.waitForSelector("input[name=username]");
    expect(await (await signIn("orla", "another password")).reads("header", "Orla Reef")).toContain("Orla Reef");
  });
});

describe("a schedule with a message", () => {
  it("is made in its brief, run, and read in the outbox", async () => {
    const desk = await app.page("/schedules");
    await desk.click("+ message", "button");
    await desk.page.waitForSelector("form textarea");
    await desk.page.type("form textarea", "not an address");
    await desk.reads("form", "Write an address like name@example.org.");
    await desk.page.$eval("form textarea", (e) => (e as HTMLTextAreaElement).select());
    await desk.page.type("form textarea", "desk@pell.example");
    await desk.click("Save", "button");
    await desk.reads("[data-schedule]", "send a message to desk@pell.example");
    await desk.click("Run now", "button");
    await desk.reads("[aria-label=Margin]", /✓ manual/);
    await desk.click("message", "[aria-label=Margin] a");
    await desk.reads("article h3", /^Freight statement each working day, \d+ \w+ 2026$/);
    await desk.reads("article", "Message not sent: no mail server is set");
    await desk.reads("article", "To desk@pell.example");
    await desk.reads("article", /Attachments Freight statement each working day .*\.pdf [\d.,]+ kB/);
    expect(desk.complaints).toEqual([]);
  });
});

describe("a query held against a figure from elsewhere", () => {
  it("holds back the run that disagrees, until it is sent all the same", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("[data-testid=status]", "rows");
    await desk.click("Add control total", "button");
    await desk.type("Control total", "1");
    await desk.type("Source", "the harbour's count");
    await desk.reads("[aria-label='Control totals']", /The query shows [\d,.]+: [\d,.()]+ out\./);
    await desk.click("Save", "button.button-primary");
    await desk.reads("li", "saved.");
    await desk.open("/schedules");
    await desk.click("Run now", "button");
    await desk.reads("[data-schedule]", "Send anyway");
    await desk.reads("header", "Desk1");
    const held = ((await (await app.fetch("/api/schedules/state")).json()) as { runs: { state: string }[] }).runs[0];
    expect(held?.state).toBe("held");
    await desk.click("Send anyway", "button");
    await desk.reads("[aria-label=Margin]", /✓ manual[^✓]*rows · \d+ pages/);
    await desk.page.waitForFunction(() => !document.querySelector("[data-schedule]")?.textContent?.includes("Send anyway"));
    expect(desk.complaints).toEqual([]);
  });
});
