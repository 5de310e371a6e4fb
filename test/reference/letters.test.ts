import { join } from "node:path";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { linkPanel } from "@/core/folio/panel";
import { type Block, docOf, fieldOf, firstLetter, type LetterSpec } from "@/core/letter/spec";
import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import { letterAt, letterProof, lettersOf } from "@/server/services/letters/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";

/* The account of letters: every row has one, none has two, and what of a table stands in none. */

let place: ReturnType<typeof temporaryFolder>;
let ws: Workspace;
beforeEach(() => {
  place = temporaryFolder();
  const path = makeDatabase(
    join(place.folder, "b.sqlite"),
    `PRAGMA foreign_keys = OFF;
    CREATE TABLE member (id INTEGER PRIMARY KEY, name TEXT, town TEXT);
    CREATE TABLE due (id INTEGER PRIMARY KEY, member_id INTEGER REFERENCES member(id), amount DECIMAL(9,2));
    INSERT INTO member VALUES (1, 'Ada', 'Pell'), (2, 'Bea', NULL), (3, 'Ada', 'Mirrin');
    INSERT INTO due VALUES (1, 1, 10.10), (2, 1, 20.20), (3, 3, -5.05), (4, 9, 100.00), (5, NULL, 7.00);`,
  );
  ws = openLedger(place.folder, path);
});
afterEach(() => {
  ws.close();
  place.remove();
});

const caller = { client: "test" };
const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const members: QuerySpec = {
  ...emptyQuery("member"),
  columns: [
    { id: "name", value: field("name") },
    { id: "town", value: field("town") },
  ],
  order: [{ column: "name", direction: "up" }],
};
async function letter(query: QuerySpec): Promise<LetterSpec> {
  ws.catalogue.create("query", "Members", query, "q");
  const { first: _, ...dues } = linkPanel(await ws.schema(), { link: "due.member_id", toward: "a" }, "dues") as NonNullable<ReturnType<typeof linkPanel>>;
  const body: Block[] = [
    { type: "paragraph", content: [fieldOf("name"), fieldOf("town")] },
    { type: "related", attrs: { table: "dues" } },
  ];
  return { ...firstLetter("q", "Us", []), body: docOf(...body), tables: [{ ...dues, hideEmpty: true }], fileName: "name" };
}

describe("the account of letters", () => {
  it("counts letters, rows of the tables and those in no letter, totals to the cent, and fields left empty", async () => {
    const proof = await letterProof(ws, { spec: await letter(members) }, caller);
    expect(proof).toMatchObject({ letters: 3, queryRows: 3, different: 3, names: ["Ada", "Ada (2)", "Bea"], empty: { town: 1 } });
    const [table] = proof.tables;
    expect(table).toMatchObject({ title: "Dues", withRows: 2, rows: 3, inTable: { rows: 5 } });
    const amount = table?.columns.find((c) => c.heading === "Amount")?.id ?? "";
    // 10.10 + 20.20 − 5.05, of 10.10 + 20.20 − 5.05 + 100.00 + 7.00.
    expect([table?.totals[amount], table?.inTable?.totals[amount]].map(Number)).toEqual([2525, 13225]);
  });
  it("tells that a query which repeats rows writes to some of them twice", async () => {
    const repeating: QuerySpec = { ...members, joins: [{ id: "d", from: "", link: "due.member_id", toward: "a", way: "keep" }] };
    expect(await letterProof(ws, { spec: await letter(repeating) }, caller)).toMatchObject({ letters: 4, queryRows: 4, different: 3 });
  });
  it("gives each letter its own rows, in the query's order, and none past the last", async () => {
    const spec = await letter(members);
    const texts = async (at: number) =>
      (await letterAt(ws, { spec }, at, caller)).pages.flatMap((p) => p.items.flatMap((i) => (i.kind === "text" ? [i.text] : []))).join(" ");
    expect(await texts(0)).toMatch(/AdaPell .*10\.10 .*20\.20 .*30\.30/);
    expect(await texts(1)).toMatch(/AdaMirrin .*\(5\.05\)/);
    expect(await texts(2)).not.toContain("Dues");
    expect((await letterAt(ws, { spec }, 3, caller)).pages).toEqual([]);
    expect((await letterAt(ws, { spec, key: ["2"] }, 0, caller)).count).toBe(1);
    ws.catalogue.create("letter", "L", spec, "l");
    expect([lettersOf(ws, "member").map((l) => l.id), lettersOf(ws, "due")]).toEqual([["l"], []]);
  });
  it("writes a key by the name of its row, in its text and in its tables; one that is missing as it is", async () => {
    const dues: QuerySpec = { ...emptyQuery("due"), columns: [{ id: "member", value: field("member_id") }], order: [{ column: "member", direction: "up" }] };
    ws.catalogue.create("query", "Dues", dues, "d");
    const spec: LetterSpec = { ...firstLetter("d", "Us", []), body: docOf({ type: "paragraph", content: [fieldOf("member")] }) };
    const texts = async (at: number) =>
      (await letterAt(ws, { spec }, at, caller)).pages.flatMap((p) => p.items.flatMap((i) => (i.kind === "text" ? [i.text] : []))).join(" ");
    const all = await Promise.all([0, 1, 2, 3, 4].map(texts));
    expect(all.filter((text) => /\bAda\b/.test(text))).toHaveLength(3);
    expect(all.filter((text) => /\b9\b/.test(text))).toHaveLength(1);
  });
});

describe("who gets a letter", () => {
  const dues = { kind: "rows" as const, table: "dues" };
  it("is counted against the rows of the query: those with a letter, and those without and why", async () => {
    const spec = await letter(members);
    const proof = (only: LetterSpec["only"]) => letterProof(ws, { spec: { ...spec, only } }, caller);
    expect(await proof({ ...dues, some: true })).toMatchObject({
      letters: 2,
      names: ["Ada", "Ada (2)"],
      without: { count: 1, first: [{ name: "Bea", why: "unmet" }] },
    });
    expect(await proof({ ...dues, some: false })).toMatchObject({ letters: 1, names: ["Bea"], different: 1, queryRows: 3 });
    expect((await proof({ kind: "formula", text: "town = 'Pell'" })).without.first.map((w) => [w.name, w.why])).toEqual([
      ["Ada", "unmet"],
      ["Bea", "empty"],
    ]);
  });
  it("is sorted out anew where the condition or the data are others", async () => {
    const spec = await letter(members);
    const at = async (town: string) => (await letterAt(ws, { spec: { ...spec, only: { kind: "formula", text: `town = '${town}'` } } }, 0, caller)).count;
    expect([await at("Pell"), await at("Mirrin"), await at("Nowhere"), await at("Pell")]).toEqual([1, 1, 0, 1]);
    const db = new Database(join(place.folder, "b.sqlite"));
    db.exec("INSERT INTO member VALUES (4, 'Cyd', 'Pell')");
    db.close();
    expect(await at("Pell")).toBe(2);
  });
  it("is refused a table of more rows than anybody reads, by name", async () => {
    const db = new Database(join(place.folder, "b.sqlite"));
    db.exec("INSERT INTO due (member_id, amount) WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 20001) SELECT 2, i FROM n");
    db.close();
    const spec = await letter(members);
    await expect(letterAt(ws, { spec }, 2, caller)).rejects.toThrow("The table “Dues” has more than 20,000 rows in one letter.");
    expect((await letterAt(ws, { spec }, 0, caller)).pages.length).toBeGreaterThan(0);
  });
});
