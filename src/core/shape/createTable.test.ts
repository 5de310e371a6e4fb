import { describe, expect, it } from "vitest";
import { keyOf, parseCreateTable, writeCreateTable } from "./createTable";

const parsed = (sql: string) => parseCreateTable(sql) as NonNullable<ReturnType<typeof parseCreateTable>>;

describe("a CREATE TABLE statement taken apart", () => {
  it("knows its columns by any quotes, their types and what binds them", () => {
    const { columns } = parsed(
      `CREATE TABLE "t" (id INTEGER PRIMARY KEY AUTOINCREMENT, [two words] VARCHAR(20) NOT NULL DEFAULT 'a, (b)', \`q\`\`\` DECIMAL(9, 2) CONSTRAINT pos CHECK (q > 0 AND (1)), 'text' REFERENCES u(x) ON DELETE SET NULL, "a""b", g AS (id * 2) STORED)`,
    );
    expect(columns.map((c) => [c.name, c.type, c.constraints.map((k) => k.kind)])).toEqual([
      ["id", "INTEGER", ["primaryKey"]],
      ["two words", "VARCHAR(20)", ["notNull", "default"]],
      ["q`", "DECIMAL(9, 2)", ["check"]],
      ["text", "", ["references"]],
      ['a"b', "", []],
      ["g", "", ["generated"]],
    ]);
    expect(columns[1]?.constraints[1]?.text).toBe("DEFAULT 'a, (b)'");
    expect(columns[2]?.constraints[0]?.text).toBe("CONSTRAINT pos CHECK (q > 0 AND (1))");
    expect(columns[3]?.constraints[0]?.text).toBe("REFERENCES u(x) ON DELETE SET NULL");
  });
  it("takes NULL after DEFAULT and SET for no constraint of its own", () => {
    const { columns } = parsed("CREATE TABLE t (a INT DEFAULT NULL NOT NULL, b INT NULL, c INT GENERATED ALWAYS AS (a) VIRTUAL NOT NULL)");
    expect(columns.map((c) => c.constraints.map((k) => k.kind))).toEqual([["default", "notNull"], ["null"], ["generated", "notNull"]]);
  });
  it("knows the table's own constraints, its key and its options, past comments", () => {
    const made = parsed(`CREATE TABLE t (a TEXT -- one, two
, b INT /* , c */, CONSTRAINT k PRIMARY KEY (b, "a"), UNIQUE (a), CHECK (a <> 'x,y') CONSTRAINT z FOREIGN KEY (b) REFERENCES u(i)) STRICT, WITHOUT ROWID`);
    expect(made.columns.map((c) => c.name)).toEqual(["a", "b"]);
    expect(made.constraints.map((c) => [c.kind, c.columns])).toEqual([
      ["primaryKey", ["b", "a"]],
      ["unique", ["a"]],
      ["check", ["a"]],
      ["foreignKey", ["b"]],
    ]);
    expect([made.strict, made.withoutRowid, keyOf(made)]).toEqual([true, true, ["b", "a"]]);
    expect(keyOf(parsed("CREATE TABLE t (a PRIMARY KEY)"))).toEqual(["a"]);
    expect(keyOf(parsed("CREATE TABLE t (a)"))).toEqual([]);
  });
  it("says the same again, but for blanks and comments between its parts", () => {
    const sql = `CREATE TABLE t (a TEXT COLLATE NOCASE, "b c" INT CHECK ("b c" > 1), UNIQUE (a, "b c")) STRICT`;
    expect(writeCreateTable(parsed(sql))).toBe(sql);
  });
  it("is none of a virtual table, or of what has no columns", () => {
    expect(parseCreateTable("CREATE VIRTUAL TABLE t USING fts5(a)")).toBeNull();
    expect(parseCreateTable("CREATE TABLE t")).toBeNull();
  });
});
