import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { strFromU8, unzipSync } from "fflate";
import type { ElementHandle } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { letterSpecSchema } from "@/core/letter/spec";
import { type Application, type Desk, openApplication } from "../support/server";

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

/** A picture of one pixel, by hand. */
const SEAL = Buffer.from("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==", "base64");
const BETWEEN = "entered_on BETWEEN '2026-10-05' AND '2026-10-31'";
const saved = async () => {
  const all = (await (await app.fetch(`/api/objects?kind=letter`)).json()) as { name: string; spec: unknown }[];
  return letterSpecSchema.parse(all.find((o) => o.name === "Statement of account")?.spec);
};
async function file(body: object): Promise<Buffer> {
  const headers = { "content-type": "application/json" };
  const response = await app.fetch(`/api/letters/export`, { method: "POST", headers, body: JSON.stringify(body) });
  if (!response.ok) throw new Error(await response.text());
  return Buffer.from(await response.arrayBuffer());
}
function printed(pdf: Uint8Array): string {
  const path = join(mkdtempSync(join(tmpdir(), "nl-letter-")), "letter.pdf");
  writeFileSync(path, pdf);
  return execFileSync("pdftotext", ["-layout", path, "-"], { encoding: "utf8" });
}
const write = async (desk: Desk, label: string, words: string) => {
  await desk.press(`[role=textbox][aria-label="${label}"]`);
  await desk.key("Control+End");
  await desk.page.keyboard.type(words);
};

describe("letters", () => {
  it("are one PDF each, with the table where there are rows and without its heading where there are none", async () => {
    const zip = unzipSync(await file({ spec: await saved(), name: "Statements", format: "zip" }));
    const shippers = app.sql(`SELECT s.name, s.id, (SELECT COUNT(*) FROM account_entry e WHERE e.shipper_id = s.id AND ${BETWEEN}),
      (SELECT SUM(amount) FROM account_entry e WHERE e.shipper_id = s.id) FROM shipper s`) as [string, number, number, number][];
    expect(Object.keys(zip).sort()).toEqual(shippers.map(([name]) => `${name} 2026-10-05.pdf`).sort());
    const money = new Intl.NumberFormat("en-GB", { minimumFractionDigits: 2 });
    const withRows = shippers.filter(([, , count]) => count > 0);
    const without = shippers.filter(([, , count]) => count === 0);
    expect([withRows.length > 0, without.length > 0]).toEqual([true, true]);
    for (const [name, id, , balance] of [...withRows.slice(0, 3), ...without.slice(0, 3)]) {
      const text = printed(zip[`${name} 2026-10-05.pdf`] as Uint8Array);
      const entries = app.sql(`SELECT reference FROM account_entry WHERE shipper_id = ${id} AND ${BETWEEN} AND reference IS NOT NULL`) as [string][];
      expect(text).toContain(`Statement of account, ${name}`);
      expect(text).toContain(`stands at EUR ${balance < 0 ? `(${money.format(-balance / 100)})` : money.format(balance / 100)} today`);
      for (const [reference] of entries) expect(text).toContain(reference);
      expect(text.includes("Entered in your account")).toBe(entries.length > 0);
      expect(text.includes("Nothing was entered in your account from 5 Oct 2026 to 31 Oct 2026.")).toBe(entries.length === 0);
    }
    expect(strFromU8((zip[`${withRows[0]?.[0]} 2026-10-05.pdf`] as Uint8Array).subarray(0, 5))).toBe("%PDF-");
  });

  it("are one PDF together, or the one of a folio's row; a row that the query leaves out has none", async () => {
    const spec = await saved();
    const all = printed(await file({ spec, name: "Statements", format: "pdf" }));
    expect(all.match(/Statement of account, /g)).toHaveLength(Number(app.sql("SELECT COUNT(*) FROM shipper")[0]?.[0]));
    const one = printed(await file({ spec, key: ["3"], name: "One", format: "pdf" }));
    expect(one.match(/Statement of account, .*/g)?.map((l) => l.trim())).toEqual([
      `Statement of account, ${app.sql("SELECT name FROM shipper WHERE id = 3")[0]?.[0]}`,
    ]);
    await expect(file({ spec, key: ["99999"], name: "None", format: "pdf" })).rejects.toThrow("leaves this row out");
  });

  it("is written, looked at row by row, undone, and says which field is gone", async () => {
    const desk = await app.page("/letters");
    await desk.click("Shippers and their desks", "button");
    await desk.page.waitForSelector('[role=textbox][aria-label="Text"]');
    await desk.reads("[aria-label=Margin]", "37 letters");
    await write(desk, "Text", "Your trade is ");
    await desk.click("trade", "nav button");
    await desk.page.keyboard.type(".");
    await desk.key("Enter");
    await desk.click("Table ▾");
    await desk.click("+ consignments", "button");
    await desk.reads("[aria-label=Margin]", /Consignments .*rows printed/i);
    await desk.click("Preview letters");
    const [first, second] = app.sql("SELECT name, trade FROM shipper ORDER BY name LIMIT 2") as [string, string][];
    await desk.reads("svg[data-page]", `Your trade is ${first?.[1]}.`);
    await desk.click("Next letter");
    await desk.reads("svg[data-page]", `Your trade is ${second?.[1]}.`);
    await desk.reads("nav[aria-label=letters]", "letter 2 of 37");
    await desk.click("Edit");
    // A passage whose condition names a column that is not there.
    await desk.page.waitForSelector('[role=textbox][aria-label="Text"]');
    await desk.press('[role=textbox][aria-label="Text"]');
    await desk.click("Conditional text", "[role=toolbar] button");
    await desk.click("Condition of this text", "button");
    await desk.page.waitForSelector('[aria-label="Condition"].cm-content');
    await desk.press('[aria-label="Condition"].cm-content');
    await desk.page.keyboard.type("salary > 3");
    await desk.reads("[role=alert]", "The formula uses “salary”");
    await desk.key("Escape", "Escape");
    while (!(await desk.page.$eval('[aria-label="Undo"]', (e) => (e as HTMLButtonElement).disabled)) && (await desk.page.$("[role=alert]")))
      await desk.click("Undo");
    await desk.reads("[aria-label=Margin]", "37 letters");
    expect(desk.complaints).toEqual([]);
  });

  it("go to those who meet the condition; the others are named, with the reason, and every row is accounted for", async () => {
    const spec = await saved();
    const [entries] = spec.tables;
    const only = { kind: "rows", table: entries?.id, some: true } as const;
    const zip = unzipSync(await file({ spec: { ...spec, only }, name: "Statements", format: "zip" }));
    const shippers = app.sql(
      `SELECT s.name, (SELECT COUNT(*) FROM account_entry e WHERE e.shipper_id = s.id AND ${BETWEEN}) FROM shipper s ORDER BY s.name`,
    ) as [string, number][];
    const [withRows, without] = [shippers.filter(([, n]) => n > 0), shippers.filter(([, n]) => n === 0)];
    expect(Object.keys(zip).sort()).toEqual(withRows.map(([name]) => `${name} 2026-10-05.pdf`).sort());
    const headers = { "content-type": "application/json" };
    const ask = async (path: string, body: object) => (await app.fetch(path, { method: "POST", headers, body: JSON.stringify(body) })).json();
    expect(await ask("/api/letters/proof", { spec: { ...spec, only } })).toMatchObject({
      letters: withRows.length,
      queryRows: shippers.length,
      different: withRows.length,
      without: { count: without.length, first: expect.arrayContaining(without.map(([name]) => ({ name: `${name} 2026-10-05`, why: "unmet" }))) },
    });
    const last = await ask("/api/letters/page", { spec: { ...spec, only }, at: withRows.length - 1 });
    expect([last.count, last.pages.length > 0]).toEqual([withRows.length, true]);
    expect((await ask("/api/letters/page", { spec: { ...spec, only }, at: withRows.length })).pages).toEqual([]);
    // One that has no answer is told from one that is not so; none at all is a sentence.
    const none = { ...spec, only: { kind: "formula", text: "CASE WHEN name = 'nobody' THEN TRUE END" } };
    expect((await ask("/api/letters/proof", { spec: none })).without.first[0].why).toBe("empty");
    await expect(file({ spec: none, name: "Nobody", format: "pdf" })).rejects.toThrow("No row of the query gets a letter");
  });

  it("hold tables that are typed and pictures; a file that is no picture is refused", async () => {
    const desk = await app.page("/letters");
    await desk.click("Shippers and their desks", "button");
    await desk.page.waitForSelector('[role=textbox][aria-label="Text"]');
    await desk.reads("[aria-label=Margin]", "37 letters");
    await write(desk, "Text", "Pay to");
    await desk.key("Enter");
    await desk.click("Table ▾");
    await desk.click("Empty table", "button");
    // By keyboard from cell to cell; after the last one comes a row more.
    for (const words of ["What", "Where", "Bank", "Pell Savings", "Trade"]) {
      await desk.page.keyboard.type(words);
      await desk.key("Tab");
    }
    await desk.click("trade", "nav button");
    await desk.key("Tab");
    await desk.page.keyboard.type("Last row");
    await desk.click("Table ▾");
    const columns = (count: number) => desk.page.waitForFunction((n) => document.querySelectorAll(".letter-text tr")[3]?.children.length === n, {}, count);
    await desk.click("Insert column to the right", "button");
    await columns(3);
    await desk.press(".letter-text tr:first-child > :nth-child(2)");
    await desk.click("Table ▾");
    await desk.click("Delete column", "button");
    await columns(2);
    const folder = mkdtempSync(join(tmpdir(), "nl-letter-"));
    const [text, picture] = [join(folder, "notes.png"), join(folder, "seal.png")];
    writeFileSync(text, "no picture");
    writeFileSync(picture, SEAL);
    const choose = async (path: string) => {
      await desk.click("Insert ▾", "[role=toolbar] button");
      await ((await desk.page.waitForSelector(".popover input[type=file]")) as ElementHandle<HTMLInputElement>).uploadFile(path);
    };
    await choose(text);
    await desk.reads("body", "notes.png is neither a PNG nor a JPEG picture.");
    await desk.key("Escape");
    await desk.press('[role=textbox][aria-label="Text"] > p');
    await choose(picture);
    await desk.click("Picture seal", "button");
    await desk.type("Picture width, mm", "40");
    await desk.key("Escape");
    await desk.click("Preview letters");
    const [first] = app.sql("SELECT trade FROM shipper ORDER BY name LIMIT 1")[0] as [string];
    await desk.reads("svg[data-page]", new RegExp(`What Where Bank Pell Savings Trade ${first} Last row`));
    await desk.page.waitForSelector("svg[data-page] image");
    // Who gets one.
    await desk.click("Letter", "[role=tab]");
    await desk.choose("Letters for", "");
    await desk.page.waitForSelector('[aria-label="Condition"].cm-content');
    await desk.press('[aria-label="Condition"].cm-content');
    await desk.page.keyboard.type(`trade = '${first}'`);
    const [count] = app.sql(`SELECT COUNT(*) FROM shipper WHERE trade = '${first}'`)[0] as [number];
    await desk.reads("[data-testid=without]", new RegExp(`${37 - count} rows? without a letter trade = '${first}' is not true`, "i"));
    await desk.reads("nav[aria-label=letters]", `letter 1 of ${count}`);
    await desk.click("Save");
    await desk.reads("section", "saved");
    const kept = (await (await app.fetch("/api/objects?kind=letter")).json()) as { name: string; spec: { only?: unknown; body: unknown } }[];
    const own = letterSpecSchema.parse(kept.find((o) => o.spec.only)?.spec);
    const pdf = printed(await file({ spec: own, name: "With table", format: "pdf" }));
    expect(pdf.match(/Pell Savings/g)).toHaveLength(count);
    expect(desk.complaints).toEqual([]);
  });
});
