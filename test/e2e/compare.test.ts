import { existsSync, mkdtempSync, readdirSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { ElementHandle } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import type { QuerySpec } from "@/core/query/spec";
import { brief, euros, proved, written } from "../support/question";
import { type Application, type Desk, openApplication, post } from "../support/server";

/* A query held against a list from elsewhere, by mouse and by keyboard; the result is a query like any other. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const OCTOBER = "lodged_on BETWEEN '2026-10-01' AND '2026-10-31' AND (status <> 'void' OR status IS NULL)";
/** The agent's list by waybill, as the test sees it past the application. */
const THERE = 'SELECT "Waybill" AS no, COUNT(*) AS n FROM agent_manifest GROUP BY 1';
const HERE = `SELECT waybill_no AS no, COUNT(*) AS n FROM consignment WHERE ${OCTOBER} GROUP BY 1`;
const counted = (where: string): string => written(app.one(`SELECT COUNT(*) FROM (${HERE}) h FULL JOIN (${THERE}) t ON t.no = h.no WHERE ${where}`)[0]);

/** A file of rows, as another program would write it. */
function fileOf(name: string, rows: unknown[][]): string {
  const path = join(mkdtempSync(join(tmpdir(), "nl-list-")), name);
  writeFileSync(path, csvOf(rows));
  return path;
}
const csvOf = (rows: unknown[][]): string => rows.map((row) => row.join(",")).join("\n");

/** A saved query's description. */
async function specOf(id: string): Promise<QuerySpec> {
  const { objects } = (await (await app.fetch("/api/definitions")).json()) as { objects: { id: string; spec: QuerySpec }[] };
  return (objects.find((o) => o.id === id) as { spec: QuerySpec }).spec;
}

/** A query of October's consignments, in which those without a shipper are left out or kept. */
async function october(name: string, way: "only" | "keep"): Promise<string> {
  const spec = await specOf("freight-by-shipper");
  const joins = spec.joins.map((j) => (j.id === "shipper" ? { ...j, way } : j));
  const made = await app.fetch("/api/objects", post({ kind: "query", name, spec: { ...spec, joins } }));
  return ((await made.json()) as { id: string }).id;
}

/** October's waybills with their freight, by whether their shipper is known. */
const waybills = (which = ""): [string, string][] =>
  app
    .sql(`SELECT waybill_no, freight_charge FROM consignment WHERE ${OCTOBER} ${which} ORDER BY 1`)
    .map(([no, cents]) => [String(no), (Number(cents) / 100).toFixed(2)]);
const NO_SHIPPER = "AND shipper_id NOT IN (SELECT id FROM shipper)";

/** Begins a comparison with a table or query that is found by typing. */
async function compareWith(desk: Desk, typed: string): Promise<void> {
  await desk.click("compare with…");
  await desk.page.waitForSelector("[aria-label='Find a table']");
  await desk.page.keyboard.type(typed);
  await desk.key("Enter");
}

/** A report is made of a comparison, and a schedule of it lays its file in the outbox. */
async function reportedAndScheduled(desk: Desk, id: string): Promise<void> {
  await desk.click("More ▾", "button");
  await desk.click("New report");
  await desk.reads("svg", /only here.*Freight there|Freight there.*only here/);
  const spec = {
    version: 1,
    subject: { kind: "query", id },
    rule: { kind: "daily" },
    time: "07:00",
    zone: "UTC",
    since: "2026-10-05T08:00:00.000Z",
    bindings: {},
    formats: ["csv"],
    folder: "compared",
    paused: false,
  };
  const made = (await (await app.fetch("/api/objects", post({ kind: "schedule", name: "Compared daily", spec }))).json()) as { id: string };
  expect((await app.fetch(`/api/schedules/${made.id}/run`, { method: "POST" })).status).toBe(200);
  await vi.waitFor(() => expect(filesIn(join(app.folder, "outbox", "compared")).some((name) => name.endsWith(".csv"))).toBe(true), 60_000);
}
/** The files in a folder and those within it. */
const filesIn = (folder: string): string[] => (existsSync(folder) ? readdirSync(folder, { recursive: true }).map(String) : []);

const chip = (desk: Desk, words: string) => desk.reads("fieldset button", words);

describe("a query and a list", () => {
  it("are compared by the key the names suggest; chips show what is only here, only there, doubled; the account holds both sides", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await compareWith(desk, "agent");
    await brief(desk, /Compare Freight lodged by shipper with agent manifest by waybill/);
    await chip(desk, `only here ${counted("t.no IS NULL")}`);
    await chip(desk, `only there ${counted("h.no IS NULL AND t.n = 1")}`);
    await chip(desk, `doubled ${counted("t.n > 1")}`);
    await chip(desk, `the same ${counted("h.n = 1 AND t.n = 1")}`);
    await desk.reads("[data-testid=reconciliation]", `agent manifest ${written(app.one("SELECT COUNT(*) FROM agent_manifest")[0])}`);
    await desk.reads("aside", "The account has all rows of both sides");
    await proved(desk);
    // Only what the list has alone, by keyboard.
    for (const state of ["only here", "different", "doubled"]) {
      await desk.page.evaluate(
        (words) => [...document.querySelectorAll("fieldset button")].find((b) => b.textContent?.startsWith(words))?.setAttribute("data-at", words),
        state,
      );
      await desk.page.focus(`fieldset button[data-at='${state}']`);
      await desk.key("Enter");
    }
    await brief(desk, "where state is only there");
    await desk.reads("[data-testid=status]", `${counted("h.no IS NULL AND t.n = 1")} rows`);
    expect(desk.complaints).toEqual([]);
  });

  it("are compared field by field within a tolerance, saved, and read like any query", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await compareWith(desk, "consignment");
    await desk.reads("[data-testid=status]", /\d rows/);
    await desk.click("weight", "p [role=button]");
    await desk.click("Remove pair", ".popover button");
    await desk.choose("Field here", "freight");
    await desk.choose("Field there", "insurance");
    await brief(desk, /by waybill \(there waybill no\): freight \(there insurance\) ?, with differences up to 0 taken as the same/);
    await desk.key("Escape");
    const differ = (least: number) =>
      written(app.one(`SELECT COUNT(*) FROM consignment WHERE ${OCTOBER} AND ABS(freight_charge - COALESCE(insurance, -1e9)) > ${least}`)[0]);
    await chip(desk, `different ${differ(0)}`);
    await desk.click("0", "p [role=button]");
    await desk.type("Differences that count as the same, up to", "50");
    await desk.key("Enter");
    await brief(desk, /differences up to 50 ?taken as the same|differences up to 50 taken/);
    await chip(desk, `different ${differ(5000)}`);
    const [here, there] = [app.one(`SELECT SUM(freight_charge) FROM consignment WHERE ${OCTOBER}`)[0], app.one("SELECT SUM(insurance) FROM consignment")[0]];
    await desk.reads("[data-testid=reconciliation]", `there less here ${euros(Number(there) - Number(here)).replace(/^-(.*)/, "($1)")}`);
    await proved(desk);
    await desk.click("Save");
    await desk.page.waitForFunction(() => /\/queries\/[\w-]{20,}$/.test(location.pathname));
    const id = new URL(desk.page.url()).pathname.split("/").pop() ?? "";
    const again = await app.sheet(`/queries/${id}`);
    await chip(again, `different ${differ(5000)}`);
    await proved(again);
    // It is exported, and a pivot over it is made, like any other.
    const file = await app.fetch("/api/query/export", post({ spec: await specOf(id), values: {}, name: "compared", format: "csv" }));
    expect((await file.text()).split("\n")[0]).toContain("Freight there");
    await reportedAndScheduled(again, id);
    expect((await app.fetch("/api/pivots/new", post({ query: id }))).status).toBeLessThan(300);
    expect([...desk.complaints, ...again.complaints]).toEqual([]);
  });

  it("a state is shown or not without losing a condition that is still being made", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await compareWith(desk, "agent manifest");
    await desk.page.waitForSelector("fieldset[aria-label='Rows shown'] button");
    await desk.click("+ condition");
    await desk.type("Find a field", "waybill");
    await desk.key("Enter");
    await desk.page.waitForSelector("[aria-label=Value]");
    await desk.key("Escape");
    await desk.page.waitForFunction(() => !document.querySelector("[aria-label=Value]"));
    await brief(desk, "waybill is …");
    await desk.press("fieldset[aria-label='Rows shown'] ::-p-text(doubled)");
    await brief(desk, /state is one of only here, only there, different and waybill is …/);
    expect(desk.complaints).toEqual([]);
  });

  it("a query is held against itself at an earlier time, by parameters of the other side", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await compareWith(desk, "Freight lodged by shipper");
    await chip(desk, "only here 0");
    await desk.type("start there", "1 Sep 2026");
    await desk.key("Tab");
    await desk.type("end there", "30 Sep 2026");
    await desk.key("Tab");
    await chip(desk, `only here ${written(app.one(`SELECT COUNT(*) FROM consignment WHERE ${OCTOBER}`)[0])}`);
    await chip(
      desk,
      `only there ${written(app.one(`SELECT COUNT(*) FROM consignment WHERE ${OCTOBER.replaceAll("2026-10", "2026-09").replace("09-31", "09-30")}`)[0])}`,
    );
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });

  it("tells where a query lost rows that a file has, opens them in its proof, and keeps the file's total as a control total", async () => {
    const id = await october("October, shippers known", "only");
    const lost = waybills(NO_SHIPPER).length;
    const list: unknown[][] = [["waybill", "freight"], ...waybills(), ["BW-99999", "12.50"]];
    const total = euros(list.slice(1).reduce((sum, [, freight]) => sum + Math.round(Number(freight) * 100), 0));
    const desk = await app.sheet(`/queries/${id}`);
    // A slow machine: what is half chosen was once asked there, and refused.
    await desk.page.emulateCPUThrottling(20);
    await desk.click("compare with…");
    const input = (await desk.page.waitForSelector("input[aria-label='File to compare with']")) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(fileOf("their October.csv", list));
    await brief(desk, /Compare October, shippers known with their october by waybill: freight/);
    await chip(desk, `only there ${written(lost + 1)}`);
    await desk.page.emulateCPUThrottling(null);
    await chip(desk, "different 0");
    await desk.reads(
      "aside",
      `Where October, shippers known loses the ${lost + 1} rows only there: shipper missing, left out ${lost} not in consignment at all 1`,
    );
    await desk.click("shipper missing, left out", "aside a");
    await desk.reads("section", "Rows behind one number of the proof.");
    await desk.reads("[data-testid=status]", `${lost} rows`);
    expect(new URL(desk.page.url()).hash).toBe("");
    // Back at the comparison, which had not been saved.
    await desk.page.goBack();
    await chip(desk, `only there ${written(lost + 1)}`);
    await desk.click(`Keep ${total} as control total of October, shippers known`, "aside a");
    await desk.reads("aside", /The query shows .* out/);
    expect(await desk.page.$eval("[aria-label='Control total']", (e) => (e as HTMLInputElement).value)).toBe(total.replaceAll(",", ""));
    expect(await desk.page.$eval("aside [aria-label='Source']", (e) => (e as HTMLInputElement).value)).toBe("their october");
    expect(desk.complaints).toEqual([]);
  });

  it("says what rows of one side have in common, of rows that were pasted; and shows fields beside, by keyboard", async () => {
    const id = await october("October, all", "keep");
    const without = waybills(NO_SHIPPER).length;
    const known = waybills("AND shipper_id IN (SELECT id FROM shipper)");
    const desk = await app.sheet(`/queries/${id}`);
    await desk.click("compare with…");
    await desk.page.waitForSelector("[aria-label='Paste rows here, headings first']");
    await desk.page.focus("[aria-label='Paste rows here, headings first']");
    await desk.page.keyboard.sendCharacter([["waybill", "freight"], ...known].map((row) => row.join("\t")).join("\n"));
    await desk.key("Tab", "Enter");
    await chip(desk, `only here ${written(without)}`);
    await chip(desk, "only there 0");
    await desk.reads("aside", new RegExp(`All ${without} rows that are only here have no shipper, no trade and no island`));
    await desk.reads("aside", "No other row of October, all has.");
    await desk.click("freight", "p [role=button]");
    await desk.choose("Shown from here", "shipper");
    await desk.click("Show this side’s only");
    await desk.key("Escape");
    await brief(desk, /taken as the same, beside shipper ?, where/);
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});
