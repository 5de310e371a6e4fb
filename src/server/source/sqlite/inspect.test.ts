import Database from "better-sqlite3";
import { afterAll, expect, it } from "vitest";
import { isSampled } from "@/core/schema/sampled";
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

/** A table of so many rows, and how it is read where no more than `most` values are looked at. */
function lookedAt(sql: string, most?: number) {
  const made = new Database(":memory:");
  registerFunctions(made);
  made.exec(sql);
  const schema = inspectDatabase(made, [], [], most === undefined ? {} : { most });
  made.close();
  return schema;
}

const ROWS = (n: number) => `WITH i(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM i WHERE n < ${n})`;

it("of a table with more values than may be looked at a sample is taken; each column of which more could be found says so", () => {
  const sql = `CREATE TABLE large (id INTEGER PRIMARY KEY, code TEXT, odd TEXT, note TEXT, size, day DATE, sent TIMESTAMP, price DECIMAL(9, 2), scaled INTEGER_SCALED(2));
    ${ROWS(30_000)} INSERT INTO large SELECT n, 'c' || n, 'o' || n, 'note', CASE n WHEN 16001 THEN 'none' ELSE n END, date('2026-01-01'),
      CASE n WHEN 16001 THEN '2026-01-01T10:00:00Z' ELSE '2026-01-01 10:00:00' END, 1.5, 150 FROM i;
    UPDATE large SET odd = x'01' WHERE id = 16001;
    CREATE INDEX by_code ON large (code); CREATE INDEX by_odd ON large (odd);
    CREATE TABLE small (id INTEGER PRIMARY KEY, size); INSERT INTO small (size) VALUES (1), ('x');
    CREATE VIEW seen AS SELECT code, size FROM large; CREATE VIEW wide AS SELECT * FROM large, small`;
  const columns = ({ tables }: ReturnType<typeof lookedAt>, name: string) =>
    tables.find((t) => t.name === name)?.columns.map((c) => [c.name, c.type.kind, c.storage, c.misfits, c.sampled ?? false]);
  const sampled = lookedAt(sql, 100_000);
  expect(columns(sampled, "large")).toEqual([
    ["id", "whole", "plain", 0, false],
    // An index has what is no text at its ends.
    ["code", "text", "plain", 0, false],
    ["odd", "text", "plain", 0, true],
    ["note", "text", "plain", 0, true],
    ["size", "whole", "plain", 0, true],
    ["day", "date", "plain", 0, true],
    ["sent", "timestamp", "written", 0, true],
    ["price", "decimal", "real", 0, true],
    ["scaled", "decimal", "scaledInteger", 0, true],
  ]);
  expect(sampled.tables.map((t) => [t.name, t.rows, t.reckoned ?? false])).toEqual([
    ["large", 30_000, true],
    // Of a view so many rows are read as are looked at, and one more.
    ["seen", 20_001, true],
    ["small", 2, false],
    ["wide", 5_455, true],
  ]);
  expect(columns(sampled, "small")).toEqual([
    ["id", "whole", "plain", 0, false],
    ["size", "text", "plain", 1, false],
  ]);
  const whole = lookedAt(sql);
  expect(
    columns(whole, "large")
      ?.map(([name, kind, storage, misfits]) => [name, kind, storage, misfits])
      .slice(2, 7),
  ).toEqual([
    ["odd", "text", "plain", 1],
    ["note", "text", "plain", 0],
    ["size", "floating", "plain", 1],
    ["day", "date", "plain", 0],
    ["sent", "timestamp", "written", 0],
  ]);
  expect(isSampled(sampled)).toBe(true);
  expect(isSampled(whole)).toBe(false);
  expect(sampled.structure).toBe(whole.structure);
  expect(lookedAt(sql.replace("note TEXT", "note")).structure).not.toBe(whole.structure);
});

it("how many values may be looked at counts for all tables together, and to the last one", () => {
  const sql = `CREATE TABLE a (x, y); ${ROWS(6_000)} INSERT INTO a SELECT n, n FROM i; CREATE TABLE b (x, y); ${ROWS(6_000)} INSERT INTO b SELECT n, n FROM i`;
  const sampledOf = (most: number) => lookedAt(sql, most).tables.map((t) => t.reckoned ?? false);
  expect(sampledOf(24_000)).toEqual([false, false]);
  expect(sampledOf(23_999)).toEqual([false, true]);
  expect(sampledOf(11_999)).toEqual([true, true]);
});

it("when no more values may be looked at, the first rows of each further table and view are", () => {
  const sql = `CREATE TABLE a (x, y); ${ROWS(100)} INSERT INTO a SELECT n, n FROM i; CREATE TABLE b (x); INSERT INTO b VALUES ('x'); CREATE VIEW seen AS SELECT * FROM a;
    CREATE TABLE without (x PRIMARY KEY) WITHOUT ROWID; INSERT INTO without VALUES ('x'), ('y')`;
  // One row more is read than may be looked at, and no more than that.
  expect(lookedAt(sql, 200).tables.map((t) => t.rows)).toEqual([100, 1, 1, 1]);
  for (const most of [200, 201, 1])
    expect(
      lookedAt(sql, most).tables.map((t) => [t.name, t.columns[0]?.type.kind, t.reckoned ?? false]),
      String(most),
    ).toEqual([
      ["a", "whole", most === 1],
      ["b", "text", most === 200],
      ["seen", "whole", true],
      ["without", "text", true],
    ]);
});

it("a sample reckons rows by how close their numbers lie, and finds what stands at the end", () => {
  const sql = `CREATE TABLE thin (id INTEGER PRIMARY KEY, v); ${ROWS(40_000)} INSERT INTO thin SELECT n * 1000, n FROM i; UPDATE thin SET v = 'last' WHERE id = 40000000`;
  const [table] = lookedAt(sql, 1_000).tables;
  expect(table).toMatchObject({ rows: 40_000, reckoned: true });
  // One text among numbers: the numbers are many more.
  expect(table?.columns[1]).toMatchObject({ type: { kind: "floating" }, sampled: true });
});

it("a key declared INTEGER is numbered by the database only where it is the row's own number", () => {
  const { tables } = lookedAt(
    `CREATE TABLE a (id INTEGER PRIMARY KEY, v); CREATE TABLE b (id INTEGER PRIMARY KEY, v) WITHOUT ROWID; CREATE TABLE c (id INTEGER PRIMARY KEY DESC, v)`,
  );
  expect(tables.map((t) => t.columns[0]?.filled)).toEqual(["number", undefined, undefined]);
});
