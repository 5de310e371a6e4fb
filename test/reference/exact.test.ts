import { join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import type { Operand, QuerySpec } from "@/core/query/spec";
import { fold, initcap, readExact } from "@/core/types/text";
import { plainText } from "@/server/jobs/export/values";
import { footingOf, planOf, proofOf, rowsOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";

/* Numbers beyond 64 bits, quotients, texts of other scripts, and shapes that once gave a wrong or no answer: each by its value. */

let ws: Workspace;
/** The ledger that stands open, and what its database was made by: nothing is written here, so one serves every test of a database. */
let standing: { script: string; close: () => void } | null = null;
afterAll(() => standing?.close());
const caller = { client: "test" };
const field = (column: string, at = ""): Operand => ({ kind: "field", join: at, column });
function open(script: string): void {
  if (standing?.script === script) return;
  standing?.close();
  const place = temporaryFolder();
  ws = openLedger(place.folder, makeDatabase(join(place.folder, "b.sqlite"), script));
  standing = {
    script,
    close: () => {
      ws.close();
      place.remove();
    },
  };
}
const ask = async (spec: QuerySpec): Promise<string[][]> => {
  const { columns } = await planOf(ws, spec, {});
  const rows = JSON.parse((await rowsOf(ws, { spec, values: {} }, { offset: 0, rows: 100 }, caller)).toString()) as (string | number | null)[][];
  return rows.map((row) => row.map((cell, i) => plainText(cell, columns[i]?.type ?? { kind: "text" })));
};
const formula = async (text: string, source = "t"): Promise<string | undefined> =>
  (await ask({ ...emptyQuery(source), columns: [{ id: "f", value: { kind: "formula", text } }] }))[0]?.[0];

const BIG = "CREATE TABLE t (id INTEGER PRIMARY KEY, big INTEGER, word TEXT, real REAL); INSERT INTO t VALUES (1, 9007199254741000, 'w', 1e30);";

describe("numbers", () => {
  it.each([
    "MOD(big * 10000, 7)",
    "'' || big * 10000",
    "big * 10000 > 5",
    "big * 10000 BETWEEN 1 AND 2",
    "CAST(big * 10000 AS TEXT)",
    "big * 1000 / 7 * 1000",
    "CAST(real AS DECIMAL(18, 2))",
    "CASE WHEN big * 10000 > 0 THEN 'much' END",
    "FLOOR(big * 10000)",
  ])("refuse with a sentence what outgrows 64 bits: %s", async (text) => {
    open(BIG);
    await expect(formula(text)).rejects.toThrow("more than 18 digits");
  });
  it("refuse it in a condition and in a count of different values too", async () => {
    open(BIG);
    const over = { kind: "formula" as const, text: "big * 10000" };
    const spec: QuerySpec = { ...emptyQuery("t"), columns: [{ id: "i", value: field("id") }] };
    const where = { ...spec, conditions: [{ id: "w", left: over, operator: "greater" as const, values: [{ kind: "value" as const, text: "5" }] }] };
    await expect(ask(where)).rejects.toThrow("more than 18 digits");
    await expect(ask({ ...spec, grouped: true, columns: [{ id: "n", value: over, figure: "countDifferent" }] })).rejects.toThrow("more than 18 digits");
    const total = { ...spec, columns: [{ id: "f", value: over, footing: "total" as const }] };
    await expect(footingOf(ws, { spec: total, values: {} }, caller)).rejects.toThrow("more than 18 digits");
  });
  it.each([
    ["12.50 / 3000000 * 3000000", "12.500000"],
    ["1 / 4000000 * 1000000", "0.250000"],
    ["2.00 / 3 / 4", "0.166667"],
    ["ROUND(2.00 / 3, 2)", "0.67"],
    ["ROUND(ROUND(10.0 / 2246, 4), 2)", "0.00"],
    ["ROUND(0.0049995 * 1, 2)", "0.00"],
    ["1 / 3", "0.333333"],
    ["2 / 3", "0.666667"],
    ["'is ' || 2 / 3", "is 0.666667"],
    ["CAST('12345678901234567890' AS INTEGER)", ""],
    ["CAST('99999999999999999999.5' AS DECIMAL(9, 2))", ""],
    ["CAST(2.5 AS DOUBLE)", "2.5"],
    ["REPLACE(word, '', NULL)", ""],
    ["POSITION('' IN word)", "1"],
  ])("%s is %s", async (text, wanted) => {
    open(BIG);
    expect(await formula(text)).toBe(wanted);
  });
  it("are averaged and shown with one rounding: 50.00 over 10,001 rows is 0.00, not 0.01", async () => {
    open(
      "CREATE TABLE t (id INTEGER PRIMARY KEY, paid DECIMAL(9,2)); WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 10001) INSERT INTO t SELECT i, CASE i WHEN 1 THEN 50.00 ELSE 0 END FROM n;",
    );
    const spec: QuerySpec = { ...emptyQuery("t"), grouped: true, columns: [{ id: "a", value: field("paid"), figure: "average" }] };
    const { columns } = await planOf(ws, spec, {});
    const { cellWriter } = await import("@/core/types/format");
    const [[cell = null] = []] = JSON.parse((await rowsOf(ws, { spec, values: {} }, { offset: 0, rows: 1 }, caller)).toString());
    const write = (decimals: number) => cellWriter(columns[0]?.type ?? { kind: "text" }, { decimals }, { locale: "en-GB", zone: "UTC" })(cell).text;
    expect([write(2), write(3), write(4), write(6)]).toEqual(["0.00", "0.005", "0.0050", "0.005000"]);
    expect((await ask(spec))[0]?.[0]).toBe("0.005000");
  });
  it("of more digits than fit are flagged in a column of decimals, however it is kept, and the file opens", async () => {
    open(
      "CREATE TABLE t (id INTEGER PRIMARY KEY, paid DECIMAL(20,2), said TEXT); INSERT INTO t VALUES (1, 12.5, '12.50'), (2, 123456789012345678901234.50, '123456789012345678901234.50'), (3, 9223372036854775807, '1');",
    );
    ws.catalogue.setColumn("t", "said", { type: { kind: "decimal", scale: 2 } });
    const { tables } = await ws.schema();
    expect(tables[0]?.columns.map((c) => c.misfits)).toEqual([0, 2, 1]);
    const spec: QuerySpec = {
      ...emptyQuery("t"),
      columns: [
        { id: "p", value: field("paid") },
        { id: "s", value: field("said") },
      ],
    };
    expect((await footingOf(ws, { spec, values: {} }, caller)).totals).toEqual({ p: 1250, s: 1350 });
    expect((await proofOf(ws, { spec, values: {} }, caller)).agrees).toBe(true);
  });
});

describe("timestamps", () => {
  it("are instants however they are written: in order, compared, counted once, by the day in UTC; one of no day is flagged", async () => {
    open(`CREATE TABLE t (id INTEGER PRIMARY KEY, at TIMESTAMP); INSERT INTO t VALUES
      (1, '2026-03-01 10:00:00'), (2, '2026-03-01T08:00:00'), (3, '2026-03-01T12:00:00+02:00'), (4, '2026-03-01T10:00:00Z'),
      (5, '2026-03-01T00:30:00+02:00'), (6, '2026-03-01 10:00:00.250'), (7, '2026-02-30T08:00:00'), (8, NULL);`);
    const { tables } = await ws.schema();
    expect(tables[0]?.columns[1]).toMatchObject({ type: { kind: "timestamp" }, storage: "written", misfits: 1 });
    const spec: QuerySpec = { ...emptyQuery("t"), columns: [{ id: "i", value: field("id") }], order: [] };
    const inOrder = await ask({ ...spec, columns: [...spec.columns, { id: "a", value: field("at") }], order: [{ column: "a", direction: "up" }] });
    expect(inOrder.slice(2).map(([id, at]) => `${id} ${at}`)).toEqual([
      "5 2026-02-28 22:30:00",
      "2 2026-03-01 08:00:00",
      "1 2026-03-01 10:00:00",
      "3 2026-03-01 10:00:00",
      "4 2026-03-01 10:00:00",
      "6 2026-03-01 10:00:00.25",
    ]);
    expect(await ask({ ...spec, grouped: true, columns: [{ id: "d", value: field("at"), figure: "countDifferent" }] })).toEqual([["4"]]);
    const on = (text: string): QuerySpec => ({ ...spec, conditions: [{ id: "w", left: field("at"), operator: "is", values: [{ kind: "value", text }] }] });
    expect(await ask(on("2026-02-28"))).toEqual([["5"]]);
    expect(await ask(on("2026-03-01"))).toHaveLength(5);
    expect((await proofOf(ws, { spec: on("2026-03-01"), values: {} }, caller)).agrees).toBe(true);
  });
});

describe("groups without a group field", () => {
  it("have one row and a footing of their own, also with an order and a limit", async () => {
    open("CREATE TABLE t (id INTEGER PRIMARY KEY, k INTEGER, w REAL); INSERT INTO t VALUES (1, 7, 1), (2, 7, 2), (3, 8, 4);");
    const spec: QuerySpec = {
      ...emptyQuery("t"),
      grouped: true,
      columns: [
        { id: "d", value: field("k"), figure: "countDifferent" },
        { id: "a", value: field("w"), figure: "greatest" },
      ],
    };
    for (const change of [{}, { order: [{ column: "d", direction: "down" as const }], limit: 5 }]) {
      expect(await ask({ ...spec, ...change })).toEqual([["2", "4"]]);
      expect(await footingOf(ws, { spec: { ...spec, ...change }, values: {} }, caller)).toMatchObject({ rows: 1, totals: {} });
      expect((await proofOf(ws, { spec: { ...spec, ...change }, values: {} }, caller)).agrees).toBe(true);
    }
  });
});

describe("a table brought to itself", () => {
  it("is told apart from itself though letter case alone would not", async () => {
    open("CREATE TABLE Crew (id INTEGER PRIMARY KEY, name TEXT, crew INTEGER REFERENCES Crew(id)); INSERT INTO Crew VALUES (1, 'a', NULL), (2, 'b', 1);");
    const [link] = (await ws.schema()).links;
    const spec: QuerySpec = {
      ...emptyQuery("Crew"),
      joins: [{ id: "j", from: "", link: link?.id ?? "", toward: "b", way: "keep" }],
      columns: [
        { id: "n", value: field("name") },
        { id: "m", value: field("name", "j") },
      ],
    };
    expect(await ask(spec)).toEqual([
      ["a", ""],
      ["b", "a"],
    ]);
  });
});

describe("texts", () => {
  it("are folded in Latin, Greek and Cyrillic as collation at primary strength does (ICU's root collation), and left whole elsewhere", () => {
    const same = new Intl.Collator("und", { sensitivity: "base" });
    for (const [a, b] of [
      ["Łucja", "lucja"],
      ["Ærøskøbing", "aeroskobing"],
      ["straße", "STRASSE"],
      ["ΟΔΟΣ", "οδος"],
      ["Ёлка", "елка"],
      ["Đorđe", "dorde"],
      ["naïve", "naive"],
      ["é", "e\u0301"],
    ] as const) {
      expect(same.compare(a, b), `${a} ${b}`).toBe(0);
      expect(fold(a), a).toBe(fold(b));
    }
    for (const [a, b] of [
      ["й", "и"],
      ["राम", "रमा"],
      ["กา", "ก"],
    ] as const) {
      expect(same.compare(a, b), `${a} ${b}`).not.toBe(0);
      expect(fold(a), a).not.toBe(fold(b));
    }
    expect(fold("राम")).toBe("राम");
  });
  it("have capitals at their words' beginnings, however an accent is written", () => {
    expect(initcap("e\u0301clair d'été")).toBe("E\u0301clair D'Été");
    expect([readExact("12.345", 2), readExact("1e3", 0), readExact("9223372036854775808", 0)]).toEqual([1235n, null, null]);
  });
});
