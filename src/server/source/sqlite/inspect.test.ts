import Database from "better-sqlite3";
import { afterAll, expect, it } from "vitest";
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
