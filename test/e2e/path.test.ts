import { execFileSync } from "node:child_process";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { parse } from "csv-parse/sync";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Application, openApplication } from "../support/server";

/* The whole path in the browser, on the demo company: from an empty query to the files in the outbox. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const FROM = "2026-09-01";
const TO = "2026-09-30";
const SUM = `SELECT COUNT(*), SUM(freight_charge) FROM consignment WHERE lodged_on BETWEEN '${FROM}' AND '${TO}' AND status <> 'void'`;
const money = (cents: number) => new Intl.NumberFormat("en-GB", { minimumFractionDigits: 2 }).format(cents / 100);

describe("from a table to a printed report that sends itself", () => {
  it("asks, proves, saves, lays out, prints and schedules; every figure agrees with a sum made independently", async () => {
    const [[count, cents] = []] = app.sql(SUM) as [number, number][];
    const total = money(cents as number);
    const desk = await app.page("/queries");
    await desk.click("consignment");
    await desk.reads("[data-testid=status]", /44,9\d\d rows/);
    for (const gone of ["insurance", "collect from", "status"]) await desk.click(gone);
    await desk.click("one shipper");
    await desk.click("island");

    await desk.click("+ condition");
    await desk.type("Find a field", "lodged on");
    await desk.key("Enter");
    await desk.reads("p", "lodged on is from … to …");
    // Its values are asked for one after the other.
    await desk.click("Ask when run");
    await desk.reads("p", "is from start to");
    await desk.click("Ask when run");
    await desk.reads("[role=alert]", "The parameter “start” needs a value.");
    // What is missing is asked for at once: the margin shows the parameters.
    await desk.type("start", FROM);
    await desk.type("end", TO);

    await desk.click("+ condition");
    await desk.type("Find a field", "status");
    await desk.key("Enter");
    await desk.reads("p", "and status is …");
    await desk.click("is");
    await desk.page.waitForSelector("[id^=headlessui-popover-panel]");
    for (const b of await desk.page.$$("[id^=headlessui-popover-panel] button"))
      if ((await b.evaluate((e) => e.textContent))?.startsWith("is not (or")) await b.click();
    await desk.type("Value", "void");
    await desk.key("Escape");
    await desk.reads("p", "status is not void (or is empty)");

    await desk.reads("[data-testid=status]", `${new Intl.NumberFormat("en-GB").format(count as number)} rows`);
    await desk.reads("[role=grid]", total);
    await desk.click("Proof", "[role=tab]");
    await desk.reads("[data-testid=proof]", "shipper missing");
    await desk.reads("aside", "✓ Proved.");

    await desk.type("Name", "September freight");
    await desk.key("Enter");
    await desk.click("Save");
    await desk.reads("body", "saved.");
    await desk.click("More ▾");
    await desk.click("New report");
    await desk.page.waitForFunction(() => location.pathname.startsWith("/reports/"));
    await desk.click("Grand total");
    await desk.reads("svg", `All, ${new Intl.NumberFormat("en-GB").format(count as number)} rows`);
    await desk.reads("aside", `the grand total, ${total}, and agree with the query`);
  });

  it("lays the demo's statement out, prints it and runs its schedule into the outbox", async () => {
    const [[count, cents] = []] = app.sql(SUM) as [number, number][];
    const desk = await app.page("/reports/freight-statement");
    await desk.reads("nav[aria-label=pages]", /page 1 of \d+/);
    await desk.click("Page", "[role=tab]");
    await desk.type("start", FROM);
    await desk.type("end", TO);
    await desk.reads("svg", "1 Sept 2026 to 30 Sept 2026");
    await desk.click("Proof", "[role=tab]");
    await desk.reads("aside", `grand total ✓ ${money(cents as number)}`);
    await desk.click("Grand total");
    await desk.reads("svg", `All, ${new Intl.NumberFormat("en-GB").format(count as number)} rows`);
    await desk.click("Save");

    await desk.click("Schedules");
    await desk.click("Run now");
    await desk.reads("aside", /✓ manual.*rows · \d+ pages/);
    const folder = join(app.folder, "outbox", "freight desk");
    const [csv, pdf] = readdirSync(folder)
      .sort()
      .map((f) => join(folder, f));
    const lines = parse(readFileSync(csv as string, "utf8"), { columns: true }) as { Freight: string }[];
    expect(lines).toHaveLength(count as number);
    expect(lines.reduce((sum, l) => sum + Math.round(Number(l.Freight) * 100), 0)).toBe(cents);
    const text = execFileSync("pdftotext", ["-layout", pdf as string, "-"], { encoding: "utf8" });
    expect(text).toMatch(new RegExp(`All, [\\d,]+ rows.*${money(cents as number)}`));
    const fonts = execFileSync("pdffonts", [pdf as string], { encoding: "utf8" });
    expect(
      fonts
        .trim()
        .split("\n")
        .slice(2)
        .every((line) => / yes yes /.test(line.slice(36))),
      fonts,
    ).toBe(true);
    await desk.click("Outbox");
    await desk.reads("main", "Freight statement each working day");
    expect(desk.complaints).toEqual([]);
  });

  it("opens the rows behind a number of the proof, and leaves missing ones out or keeps them", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("aside", /consignments have no shipper/);
    const [, missing = ""] = /(\d+) consignments have no shipper/.exec(await desk.text("aside")) ?? [];
    await desk.click(`See the ${missing}`);
    await desk.reads("[data-testid=status]", new RegExp(`^${missing} rows`));
    await desk.click("Back to the query");
    await desk.click("Leave them out");
    await desk.reads("p", "only rows with one");
    await desk.reads("[data-testid=proof]", "shipper missing, left out");
    await desk.key("Control+z");
    await desk.reads("p", "shipper (if any)");
  });
});
