import Database from "better-sqlite3";
import { afterEach, beforeEach, expect, it } from "vitest";
import type { Table } from "@/core/schema/schema";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { Target } from "./target";

let db: Database.Database;
let target: Target;
beforeEach(() => {
  db = new Database(":memory:");
  db.exec(`CREATE TABLE crate (id INTEGER PRIMARY KEY, mark TEXT UNIQUE ON CONFLICT REPLACE, seal TEXT UNIQUE ON CONFLICT IGNORE, note TEXT NOT NULL DEFAULT 'none');
    INSERT INTO crate VALUES (1, 'a', 'x', 'first'), (2, 'b', 'y', 'second')`);
  target = new Target(db, inspectDatabase(db, []).tables[0] as Table);
});
afterEach(() => void db.close());

const column = (name: string) => target.columns.filter((c) => c.name === name);
const rows = () => db.prepare("SELECT * FROM crate ORDER BY id").raw().all();

it("a row that is written is told as the database made it", () => {
  expect(target.insert([...column("mark")], ["c"])).toEqual({ row: "[3]", image: [3n, "c", null, "none"] });
  target.add([], []);
  expect(target.find("[4]")).toEqual([4n, null, null, "none"]);
  expect(target.update("[3]", column("note"), ["third"])).toEqual({ row: "[3]", image: [3n, "c", null, "third"] });
});

it.each([
  ["another row would have to give way", "mark", "a"],
  ["it would be passed over", "seal", "x"],
])("a row is refused where, by a rule of its table, %s", (_, name, value) => {
  const before = rows();
  expect(() => target.insert(column(name), [value])).toThrow(/UNIQUE/);
  expect(() => target.add(column(name), [value])).toThrow(/UNIQUE/);
  expect(() => target.update("[2]", column(name), [value])).toThrow(/UNIQUE/);
  expect(() => target.write("[2]", column(name), [value])).toThrow(/UNIQUE/);
  expect(() => target.restore("[9]", [9n, name === "mark" ? value : null, name === "seal" ? value : null, "back"])).toThrow(/UNIQUE/);
  expect(rows()).toEqual(before);
});

it.each([
  ["CREATE TABLE t (mark TEXT UNIQUE, n INTEGER)", ["mark"], "exact"],
  ["CREATE TABLE t (mark TEXT PRIMARY KEY, n INTEGER) WITHOUT ROWID", ["mark"], "plain"],
  ["CREATE TABLE t (mark TEXT, n INTEGER PRIMARY KEY)", ["n"], "exact"],
  ["CREATE TABLE t (mark TEXT, n INTEGER PRIMARY KEY)", ["n", "mark"], "plain"],
  ["CREATE TABLE t (mark TEXT, n INTEGER, UNIQUE (mark, n))", ["n", "mark"], "exact"],
  ["CREATE TABLE t (mark TEXT, n INTEGER, UNIQUE (mark, n))", ["mark"], "plain"],
  ["CREATE TABLE t (mark TEXT UNIQUE, n INTEGER)", ["mark", "n"], "plain"],
  ["CREATE TABLE t (mark TEXT, n INTEGER); CREATE INDEX i ON t (mark)", ["mark"], "plain"],
  ["CREATE TABLE t (mark TEXT, n INTEGER); CREATE UNIQUE INDEX i ON t (mark) WHERE n > 0", ["mark"], null],
  ["CREATE TABLE t (mark TEXT COLLATE NOCASE UNIQUE, n INTEGER)", ["mark"], "plain"],
  ["CREATE TABLE t (mark TEXT COLLATE NOCASE, n INTEGER); CREATE UNIQUE INDEX i ON t (mark COLLATE BINARY)", ["mark"], null],
  ["CREATE TABLE t (mark STRING UNIQUE, n INTEGER)", ["mark"], "plain"],
  ["CREATE TABLE t (mark TEXT, n REAL UNIQUE)", ["n"], "plain"],
  ["CREATE TABLE t (mark TEXT, n INTEGER)", ["mark"], null],
])("rows are found by an index of their columns alone, exactly, or otherwise: %s, %s", (script, names, told) => {
  db.exec(`${script}; INSERT INTO t VALUES ('01x', 1)`);
  const of = new Target(db, inspectDatabase(db, []).tables.find((t) => t.name === "t") as Table);
  expect(of.indexOf(of.columns.filter((c) => names.includes(c.name)))).toBe(told);
});

it("as many rows are added at once as the database takes values", () => {
  const names = Array.from({ length: 1500 }, (_, i) => `c${i}`);
  db.exec(`CREATE TABLE wide (${names.join(", ")})`);
  const wide = new Target(db, inspectDatabase(db, []).tables.find((t) => t.name === "wide") as Table);
  const lists = Array.from({ length: wide.atOnce }, (_, n) => names.map(() => n));
  wide.addMany(wide.columns, lists);
  expect(wide.insertMany(wide.columns, lists).length).toBe(wide.atOnce);
  expect([target.atOnce, wide.count()]).toEqual([25, 2 * wide.atOnce]);
});
