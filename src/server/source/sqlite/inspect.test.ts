import Database from "better-sqlite3";
import { afterAll, expect, it } from "vitest";
import { registerFunctions } from "./functions";
import { inspectDatabase } from "./inspect";

const db = new Database(":memory:");
afterAll(() => void db.close());

it("a large table is looked through in slices of its rows, every value once, and tells how far it is", () => {
  db.exec(`CREATE TABLE big (rowid TEXT, n INTEGER, day DATE, amount DECIMAL(9, 2));
    WITH i(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM i WHERE n < 250001) INSERT INTO big SELECT 'r' || n, n, date('2024-01-01', '+' || (n % 900) || ' days'), n FROM i;
    UPDATE big SET day = 'none' WHERE n IN (1, 100000, 100001, 250001);
    CREATE TABLE far (n INTEGER PRIMARY KEY, note TEXT);
    INSERT INTO far VALUES (-9000000000, 'a'), (0, 'b'), (9000000000, 'c');
    CREATE TABLE keyed (code TEXT PRIMARY KEY) WITHOUT ROWID;
    INSERT INTO keyed VALUES ('x'), ('y');
    CREATE TABLE empty (n INTEGER);
    CREATE VIEW seen AS SELECT n FROM big WHERE n < 5`);
  const shares: number[] = [];
  const { tables } = inspectDatabase(db, [], [], { onShare: (share) => shares.push(share) });
  expect(tables.map((t) => [t.name, t.rows])).toEqual([
    ["big", 250_001],
    ["empty", 0],
    ["far", 3],
    ["keyed", 2],
    ["seen", 4],
  ]);
  const big = tables[0];
  expect(big?.columns.map((c) => [c.name, c.type.kind, c.misfits])).toEqual([
    ["rowid", "text", 0],
    ["n", "whole", 0],
    ["day", "date", 4],
    ["amount", "decimal", 0],
  ]);
  expect(shares).toEqual([...shares].sort((a, b) => a - b));
  expect(shares.length).toBeGreaterThan(3);
  expect(shares.length).toBeLessThan(300);
  expect(shares.at(-1)).toBe(1);
});

it("a column that goes on otherwise than it begins is what all of its values say, whatever its first rows are", () => {
  const values: Record<string, string> = {
    nothing: "NULL",
    whole: "n * 7 - 30",
    long: "1234567890123456 + n",
    truth: "n % 2",
    real: "n + 0.5",
    day: "date('2026-01-01', '+' || n || ' days')",
    "plain moment": "datetime('2026-01-01', '+' || n || ' hours')",
    "no moment": "'2026-13-' || printf('%02d', n) || ' 10:00:00'",
    "written moment": "strftime('%Y-%m-%dT%H:%M:%SZ', '2026-01-01', '+' || n || ' hours')",
    text: "'text ' || n",
    bytes: "x'0102'",
  };
  const declared = ["", "TEXT", "INTEGER", "DATE", "TIMESTAMP", "BOOLEAN", "REAL", "DECIMAL(9, 2)", "INTEGER_SCALED(2)"];
  const kinds = Object.keys(values);
  const columns = kinds.flatMap((first) =>
    kinds.map((then) => ({ name: `${first}, ${then}`, sql: `CASE WHEN n < 8 OR n = 15 THEN ${values[first]} ELSE ${values[then]} END` })),
  );
  const names = columns.map((c) => `"${c.name}"`);
  const made = new Database(":memory:");
  registerFunctions(made);
  declared.forEach((type, i) => {
    for (const [table, rest] of [
      ["sliced", ""],
      ["whole", "WITHOUT ROWID"],
    ]) {
      made.exec(`CREATE TABLE ${table}_${i} (id INTEGER PRIMARY KEY, ${names.map((n) => `${n} ${type}`).join(", ")}) ${rest};
        WITH i(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM i WHERE n < 30) INSERT INTO ${table}_${i} SELECT n, ${columns.map((c) => c.sql).join(", ")} FROM i`);
    }
  });
  const settings = ["yesno", "date", "timestamp", "whole", "floating"].flatMap((kind, i) =>
    ["sliced", "whole"].map((table) => ({ table: `${table}_0`, column: columns[12 * i + 1]?.name ?? "", type: { kind } }) as never),
  );
  const { tables } = inspectDatabase(made, settings, [], { slices: { first: 5, each: 6 } });
  const shapeOf = (name: string) =>
    tables.find((t) => t.name === name)?.columns.map(({ name: c, type, storage, misfits, long }) => ({ c, type, storage, misfits, long }));
  declared.forEach((type, i) => {
    expect(shapeOf(`whole_${i}`)?.length, type).toBe(122);
    expect(shapeOf(`sliced_${i}`), type).toEqual(shapeOf(`whole_${i}`));
  });
  made.close();
});
