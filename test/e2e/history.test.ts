import { writeFileSync } from "node:fs";
import { join } from "node:path";
import type { ElementHandle } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import type { ReportSpec } from "@/core/report/spec";
import { brief } from "../support/question";
import { type Application, Desk, openApplication, post } from "../support/server";

/* What saved objects were, what uses them, what was deleted, and what was left unsaved. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

/** A saved query's description as it is kept. */
async function specOf(id: string): Promise<QuerySpec> {
  const { objects } = (await (await app.fetch(`/api/definitions?id=${id}`)).json()) as { objects: { id: string; spec: QuerySpec }[] };
  return (objects.find((o) => o.id === id) as { spec: QuerySpec }).spec;
}

const saved = (desk: Desk) => desk.reads("section", /\bsaved ·/);
/** Opens the panel of history and use. */
async function about(desk: Desk): Promise<void> {
  await desk.click("More ▾");
  await desk.click("History and use");
  await desk.reads("[role=dialog]", "History");
}

describe("the history of a query", () => {
  it("tells who saved what in words, shows a version as a change that can be undone or saved", async () => {
    const desk = await app.sheet("/queries/sailings-called-off");
    const before = await desk.text("section p");
    await desk.click("+ limit", "button");
    await desk.page.waitForSelector(".popover input");
    await desk.page.keyboard.type("3");
    await desk.key("Enter");
    await brief(desk, "First 3 rows only.");
    await desk.key("Escape");
    await desk.click("Save");
    await saved(desk);
    await about(desk);
    await desk.reads("[role=dialog] li", /Ingrid Vale.*as saved.*Added: first 3 rows/);
    await desk.click("Show this version", "[role=dialog] button");
    await desk.page.waitForFunction(() => !document.querySelector("[role=dialog]"));
    await brief(desk, before.split(" + ")[0] as string);
    await desk.reads("section", "changed");
    await desk.key("Control+z");
    await brief(desk, "First 3 rows only.");
    await desk.key("Control+Shift+Z");
    await desk.click("Save");
    await saved(desk);
    await about(desk);
    await desk.reads("[role=dialog] li", /as saved.*Removed: first 3 rows/);
    await desk.key("Escape");
    await desk.page.waitForFunction(() => !document.querySelector("[role=dialog]"));
    expect(desk.complaints).toEqual([]);
  });
});

describe("the history of a report", () => {
  it("tells each value that changed, by the names of columns", async () => {
    const objects = (await (await app.fetch("/api/definitions")).json()) as { objects: { id: string; name: string; kind: string; spec: ReportSpec }[] };
    const report = objects.objects.find((o) => o.kind === "report" && o.name === "Freight statement");
    if (!report) throw new Error("no such report");
    const { spec, id } = report;
    const last = spec.columns.at(-1)?.id ?? "";
    const next = { ...spec, columns: spec.columns.slice(0, -1), page: { ...spec.page, paper: "Letter" } };
    const body = JSON.stringify({ name: report.name, spec: next, revision: 1 });
    expect((await app.fetch(`/api/objects/${id}`, { method: "PATCH", body })).status).toBe(200);
    const desk = await app.page(`/reports/${id}`);
    await about(desk);
    const words = await desk.reads("[role=dialog] ol li", /as saved.*Page › paper: A4 → Letter/);
    expect(words).toContain("Removed from columns: ");
    expect(words).not.toContain(`Removed from columns: ${last}`);
    expect(desk.complaints).toEqual([]);
  });
});

describe("what uses a query", () => {
  it("is listed; a change that breaks it says which and how before it is saved, and is saved only then", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await about(desk);
    await desk.reads("[role=dialog] section", /Used by.*Freight statement report/);
    await desk.key("Escape");
    await desk.page.waitForFunction(() => !document.querySelector("[role=dialog]"));
    await desk.click("6 columns", "p [role=button]");
    await desk.page.waitForSelector(".popover [aria-label='Remove column']");
    // The island, by which the report is grouped.
    const rows = await desk.page.$$(".popover li");
    for (const row of rows)
      if ((await row.evaluate((e) => e.textContent))?.toLowerCase().includes("island")) await (await row.$("[aria-label='Remove column']"))?.click();
    await brief(desk, "5 columns");
    await desk.key("Escape");
    await desk.click("Save");
    await desk.reads("body", /The report “Freight statement” would stop working: The query no longer has the column/);
    await desk.reads("section", "changed");
    // By the keyboard: a notice moves while it comes in.
    await desk.page.focus("[data-sonner-toast] [data-action]");
    await desk.key("Enter");
    await saved(desk);
    // The refusal is what the browser says of it.
    expect(desk.complaints.every((c) => c.includes("409"))).toBe(true);
  });
});

describe("a deleted query", () => {
  it("lies among the deleted items, with who deleted it, and comes back from there", async () => {
    const desk = await app.sheet("/queries/all-called-off");
    await desk.click("More ▾");
    await desk.click("Delete");
    await desk.click("Delete anyway");
    await desk.reads("main", "New query from a table");
    await desk.click("Deleted items", "a");
    await desk.reads("main li", /Sailings called off, any day query · deleted .* by Ingrid Vale/);
    await desk.page.focus("main li button");
    await desk.key("Enter");
    await desk.reads("main", "Nothing was deleted in the last 30 days.");
    const again = await app.sheet("/queries/all-called-off");
    await again.reads("[role=grid]", /\w/);
    expect(again.complaints).toEqual([]);
  });
});

describe("changes left unsaved", () => {
  it("are offered in another browser, shown or discarded there; saved ones are not", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    const kept = desk.page.waitForResponse((r) => r.url().endsWith("/api/drafts") && r.request().postData()?.includes('"limit":2') === true);
    await desk.click("+ limit", "button");
    await desk.page.waitForSelector(".popover input");
    await desk.page.keyboard.type("2");
    await desk.key("Enter", "Escape");
    await kept;
    const elsewhere = await app.browserOf("demo-owner");
    const other = await new Desk(await elsewhere.newPage(), app.address).open("/queries/freight-by-island");
    await other.reads("body", "You left changes to this unsaved.");
    expect(await other.text("section p")).not.toContain("First 2 rows");
    // By the keyboard: a notice moves while it comes in.
    await other.page.focus("[data-sonner-toast] [data-action]");
    await other.key("Enter");
    await brief(other, "First 2 rows only.");
    const dropped = desk.page.waitForResponse((r) => r.url().endsWith("/api/drafts") && r.request().postData()?.includes("null") === true);
    await desk.click("Save");
    await saved(desk);
    await dropped;
    await elsewhere.close();
    expect(desk.complaints).toEqual([]);
  });
});

describe("changes left in the very moment", () => {
  it("are kept as the page goes", async () => {
    const desk = await app.sheet("/queries/freight-per-tonne");
    desk.page.on("dialog", (dialog) => void dialog.accept());
    await desk.click("+ limit", "button");
    await desk.page.waitForSelector(".popover input");
    await desk.page.keyboard.type("4");
    await desk.key("Enter");
    await brief(desk, "First 4 rows only.");
    await desk.page.goto("about:blank");
    const place = encodeURIComponent("unsaved query freight-per-tonne");
    await expect.poll(async () => (await app.fetch(`/api/drafts?place=${place}`)).text(), { timeout: 20_000 }).toContain('"limit":4');
  });
});

describe("definitions", () => {
  it("go out as a file; what a changed file does is shown before it is taken, as a next version", async () => {
    const file = (await (await app.fetch("/api/definitions")).json()) as { objects: { id: string; name: string }[] };
    const path = join(app.folder, "definitions.json");
    const renamed = file.objects.map((o) => (o.id === "freight-lodged" ? { ...o, name: "Freight lodged, as agreed" } : o));
    writeFileSync(path, JSON.stringify({ ...file, objects: renamed }));
    const desk = await app.page("/settings");
    const input = await desk.page.waitForSelector("section[aria-label='Definitions as a file'] input[type=file]");
    await (input as ElementHandle<HTMLInputElement>).uploadFile(path);
    await desk.reads("[data-testid=definitions] li", "Freight lodged, as agreed query changed: saved as the next version");
    await desk.click("Import 1 item");
    await desk.reads("body", "1 item imported.");
    const query = await app.sheet("/queries/freight-lodged");
    expect(await query.page.$eval("h1 input", (e) => (e as HTMLInputElement).value)).toBe("Freight lodged, as agreed");
    expect([...desk.complaints, ...query.complaints]).toEqual([]);
  });
});

describe("a list", () => {
  it("is searched and sorted; a second item of a name is asked about", async () => {
    const desk = await app.page("/queries");
    await desk.type("Find by name, field, note or owner", "tonne quarter");
    await desk.reads("[data-testid=objects]", /^Freight per tonne by island and quarter .*saved .* One row per shipper › island and Quarter/);
    expect(await desk.page.$$eval("[data-testid=objects] li", (all) => all.length)).toBe(1);
    await desk.type("Find by name, field, note or owner", "nothing like this");
    await desk.reads("main", "Nothing matches.");
    // By a field that stands in no name.
    await desk.type("Find by name, field, note or owner", "lodged on island");
    await desk.reads("[data-testid=objects]", /^Freight by island/);
    const named = await app.sheet("/queries/sailings-called-off");
    await named.type("Name", "Freight by island");
    await named.key("Enter");
    await named.reads("body", "There is another query named “Freight by island”.");
    await named.page.waitForFunction(() => (document.querySelector("h1 input") as HTMLInputElement).value === "Sailings called off");
    expect(desk.complaints).toEqual([]);
  });

  it("takes several at once: into a folder, by keyboard; shared, exported, deleted, all or none", async () => {
    const made = async (name: string, of = "surcharge") =>
      (
        (await (
          await app.fetch(
            "/api/objects",
            post({ kind: "query", name, spec: { ...emptyQuery(of), columns: [{ id: "n", value: null, figure: "count" }], grouped: true } }),
          )
        ).json()) as { id: string }
      ).id;
    const [one, two] = [await made("Several, one"), await made("Several, two")];
    await made("Several, over one", `query ${one}`);
    const desk = await app.page("/queries");
    await desk.type("Find by name, field, note or owner", "several");
    await desk.reads("[data-testid=objects]", /^Several, one.*Several, over one.*Several, two/);
    await desk.page.waitForFunction(() => document.querySelectorAll("[data-testid=objects] li").length === 3);
    await desk.page.focus("[aria-label='Select Several, one']");
    await desk.key("Space");
    await desk.click("Note", "[role=toolbar] button");
    await desk.type("Note", "For the auditors");
    await desk.click("Save", ".popover button");
    await desk.reads("[data-testid=objects]", "For the auditors");
    // All from the first to the last, with Shift.
    await desk.press("[aria-label='Select Several, one']");
    await desk.page.keyboard.down("Shift");
    await desk.press("[aria-label='Select Several, two']");
    await desk.page.keyboard.up("Shift");
    await desk.reads("[role=toolbar]", "3 selected");
    await desk.click("Move to folder", "[role=toolbar] button");
    await desk.type("New folder", "Audit");
    await desk.key("Enter");
    await desk.reads("body", "3 items moved to Audit.");
    await desk.type("Find by name, field, note or owner", "auditors");
    await desk.reads("[data-testid=objects]", /^Several, one .*Audit For the auditors$/);
    // The folder shows what lies in it.
    await desk.type("Find by name, field, note or owner", " ");
    await desk.click("Audit", "[data-testid=objects] button");
    await desk.page.waitForFunction(() => document.querySelectorAll("[data-testid=objects] li").length === 3);
    const select = async () => {
      await desk.press("[aria-label='Select Several, one']");
      await desk.press("[aria-label='Select Several, two']");
    };
    const sharedAs = async () => {
      const shares = [one, two].map(async (id) => ((await (await app.fetch(`/api/objects/${id}/shares`)).json()) as { shares: { level: string }[] }).shares);
      return (await Promise.all(shares)).map((own) => own.map((s) => s.level));
    };
    for (const [level, words, levels] of [
      ["edit", "2 items shared with everyone.", [["edit"], ["edit"]]],
      ["", "2 items no longer shared with everyone.", [[], []]],
    ] as const) {
      await select();
      await desk.click("Share", "[role=toolbar] button");
      await desk.choose("They can", level);
      await desk.click("everyone", ".popover button");
      await desk.reads("body", words);
      expect(await sharedAs()).toEqual(levels);
    }
    await select();
    await desk.click("Delete", "[role=toolbar] button");
    await desk.reads("body", "“Several, one” is used by the query “Several, over one”.");
    expect((await (await app.fetch("/api/definitions")).text()).match(/"Several, /g)).toHaveLength(3);
    // With what uses it, it goes.
    await desk.press("[aria-label='Select Several, over one']");
    await desk.click("Delete", "[role=toolbar] button");
    await desk.reads("body", "3 items deleted.");
    // An analyst files, shares and deletes only what is theirs to; a viewer nothing.
    const several = (body: object, person: string) => app.fetch("/api/objects/several", post(body), person);
    const mirelas = (await (
      await app.fetch("/api/objects", post({ kind: "query", name: "Mirela's own", spec: emptyQuery("rate") }), "demo-analyst")
    ).json()) as { id: string };
    for (const deed of [
      { deed: "folder", folder: "x" },
      { deed: "delete", anyway: true },
      { deed: "share", person: "", level: "see" },
      { deed: "note", note: "x" },
    ])
      expect((await several({ ...deed, ids: ["freight-lodged"] }, "demo-una")).status).toBe(403);
    expect((await several({ deed: "share", ids: [mirelas.id], person: "", level: "see" }, "demo-analyst")).status).toBe(200);
    expect((await several({ deed: "delete", ids: [mirelas.id, "gone"], anyway: true }, "demo-analyst")).status).toBe(404);
    expect((await app.fetch(`/api/definitions?id=${mirelas.id}`)).status).toBe(200);
    // Folder and note go out and in with the definitions.
    const file = await (await app.fetch(`/api/definitions?id=${two}`)).text();
    expect(file).not.toContain("Several");
    await app.fetch("/api/objects/several", post({ deed: "folder", ids: ["freight-lodged"], folder: "Month end" }));
    const kept = (await (await app.fetch("/api/definitions?id=freight-lodged")).json()) as { objects: { id: string; folder?: string }[] };
    expect(kept.objects.find((o) => o.id === "freight-lodged")?.folder).toBe("Month end");
    const changed = { ...kept, objects: kept.objects.map((o) => ({ ...o, folder: "Board" })) };
    expect(((await (await app.fetch("/api/definitions", post({ file: changed, take: true }))).json()) as { changed: number }).changed).toBe(1);
    expect(await (await app.fetch("/api/definitions?id=freight-lodged")).text()).toContain('"folder": "Board"');
    // The refusal, which the browser reports too.
    expect(desk.complaints.filter((c) => !c.includes("409 (Conflict)"))).toEqual([]);
  });
});

describe("broken items", () => {
  it("are marked in their list, and one choice puts something else in the place of what they miss, checked before it is saved", async () => {
    const made = async (kind: string, name: string, spec: object) =>
      ((await (await app.fetch("/api/objects?anyway", post({ kind, name, spec }))).json()) as { id: string }).id;
    const gone = { ...emptyQuery("surcharges 2025"), columns: [{ id: "amount", value: { kind: "field", join: "", column: "amount" } }] };
    const [first, second] = [await made("query", "Old surcharges, first", gone), await made("query", "Old surcharges, second", gone)];
    const source = await made("query", "Rates, to be deleted", {
      ...emptyQuery("rate"),
      columns: [{ id: "a", value: { kind: "field", join: "", column: "rate" } }],
    });
    const over = await made("query", "Over what is deleted", {
      ...emptyQuery(`query ${source}`),
      columns: [{ id: "a", value: { kind: "field", join: "", column: "a" } }],
    });
    await app.fetch(`/api/objects/${source}?anyway`, { method: "DELETE" });
    const list = await app.page("/queries");
    await list.type("Find by name, field, note or owner", "old surcharges");
    await list.reads("[data-testid=objects]", /Old surcharges, first ?broken .* The database has no table “surcharges 2025”/);
    await list.click("Choose replacements", "[data-testid=objects] a");
    await list.reads("h1", "Broken items");
    await list.reads("[data-missing]", /The table surcharges 2025 is missing .* Old surcharges, first .* Old surcharges, second/);
    await list.reads("[data-missing]", "The query “Rates, to be deleted”, which was deleted is missing");
    // A table that lacks the column is said to, before anything is saved.
    await list.choose("Use instead of the table surcharges 2025", "rate");
    await list.reads("[data-missing]", "The table “rate” has no column “amount” any more.");
    await list.choose("Use instead of the table surcharges 2025", "surcharge");
    await list.page.waitForFunction(() => (document.querySelector("[data-missing]")?.textContent?.match(/Works with it/g) ?? []).length === 2);
    await list.click("Replace in 2 items");
    await list.reads("body", "Replaced in 2 items.");
    for (const id of [first, second]) {
      const spec = await specOf(id);
      expect(spec.source).toBe("surcharge");
    }
    await list.choose("Use instead of the query “Rates, to be deleted”, which was deleted", "freight-lodged");
    await list.reads("[data-missing]", "has no column “a” any more.");
    expect((await specOf(over)).source).toBe(`query ${source}`);
    // What a person may not change is not theirs to replace in.
    const asked = { missing: { what: "object", id: source }, to: "freight-lodged", take: true };
    expect((await app.fetch("/api/broken", post(asked), "demo-analyst")).status).toBe(409);
    expect((await app.fetch("/api/broken", post({ ...asked, to: "" }))).status).toBe(400);
    expect(list.complaints).toEqual([]);
  });
});
