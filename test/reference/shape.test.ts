import { fork, spawn } from "node:child_process";
import { copyFileSync, readFileSync, rmSync } from "node:fs";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { writtenName } from "@/core/expression/parse";
import { quoted } from "@/core/query/dialect/dialect";
import { findTable, type Table } from "@/core/schema/schema";
import { parseCreateTable } from "@/core/shape/createTable";
import * as edit from "@/core/shape/edit";
import { planShape } from "@/core/shape/plan";
import type { ShapePlan } from "@/core/shape/shapePlan";
import type { ShapeColumn, ShapeSpec } from "@/core/shape/spec";
import { usualDay } from "@/core/types/calendar";
import type { ValueType } from "@/core/types/valueType";
import { readJournal } from "@/server/jobs/posting/journal";
import { previewReversal, reverse } from "@/server/jobs/posting/run";
import { dropWhole, shapeNow, shapeTable, surveyIn } from "@/server/jobs/shape/run";
import { tableText } from "@/server/jobs/shape/schemaTexts";
import { identityOf, rebuild } from "@/server/jobs/shape/transform";
import { JobFailure } from "@/server/source/failures";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { seeded } from "../../demo/random";
import { allRows, temporaryFolder } from "../support/ledger";

/* Tables of every make are reshaped at random and taken back: the schema and every row are then as they were, letter by letter. */

/** How often tables are changed at random; more by hand. */
const RUNS = Number(process.env.RUNS ?? 40);

let place: ReturnType<typeof temporaryFolder>;
let file: string;
beforeEach(() => {
  place = temporaryFolder();
  file = join(place.folder, "business.sqlite");
});
afterEach(() => place.remove());

const SCRIPT = `
CREATE TABLE yard (id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL UNIQUE, town VARCHAR(20) DEFAULT 'A' -- where it is
, parent_id INTEGER REFERENCES yard(id) ON DELETE SET NULL);
INSERT INTO yard VALUES (1, 'north', 'A', NULL), (2, 'south', NULL, 1), (7, 'east', 'B', 2);
DELETE FROM yard WHERE id = 7;
CREATE TABLE crate ([yard id] INTEGER REFERENCES yard(id), mark TEXT COLLATE NOCASE, day DATE, fee INTEGER_SCALED(2) NOT NULL CHECK (fee > -100000),
  "odd ""name" REAL, twice GENERATED ALWAYS AS (fee * 2) VIRTUAL, note, CONSTRAINT marked UNIQUE (mark, day));
INSERT INTO crate ([yard id], mark, day, fee, "odd ""name", note) VALUES (1, 'a', '2026-01-31', 1250, 1.5, x'00ff'), (1, 'A b', '2026-02-01', 300, 2.0, 'text'), (2, 'c', NULL, -50, NULL, 12), (NULL, '9007199254740993', '31.12.2026', 9007199254740993, 1e300, NULL);
DELETE FROM crate WHERE mark = 'A b';
CREATE INDEX crate_day ON crate (day DESC);
CREATE UNIQUE INDEX crate_fee ON crate (fee) WHERE fee > 0;
CREATE INDEX crate_lower ON crate (lower(mark));
CREATE TRIGGER on_crate AFTER UPDATE OF fee ON crate BEGIN INSERT INTO seen_fee VALUES (new.fee); END;
CREATE TABLE seen_fee (fee);
CREATE VIEW yards AS SELECT y.name, COUNT(c.fee) AS crates FROM yard y LEFT JOIN crate c ON c.[yard id] = y.id GROUP BY y.id;
CREATE TABLE line (no TEXT, item INTEGER, price TEXT, PRIMARY KEY (no, item)) WITHOUT ROWID;
INSERT INTO line VALUES ('x', 1, '1.50'), ('x', 2, '77'), ('y', 1, NULL);
CREATE TABLE leg (line_no TEXT, line_item INTEGER, yard INTEGER, FOREIGN KEY (line_no, line_item) REFERENCES line (no, item) ON UPDATE CASCADE, FOREIGN KEY (yard) REFERENCES yard (id));
INSERT INTO leg VALUES ('x', 2, 1), (NULL, NULL, 2);
CREATE TABLE tight (code TEXT PRIMARY KEY, n INTEGER, at TEXT) STRICT;
INSERT INTO tight VALUES ('a', 1, '2026-01-01'), ('b', NULL, 'soon');
CREATE TABLE loose (mark TEXT, amount TEXT);
INSERT INTO loose VALUES ('x', '1'), ('x', '2'), ('y', '3,5');
`;

/** All that a database is made of, and every row with how its values lie. */
function dump(path: string): unknown[] {
  const db = new Database(path, { readonly: true });
  try {
    const objects = db
      .prepare(
        "SELECT type, name, tbl_name, sql FROM sqlite_schema WHERE name NOT LIKE 'next_ledger_%' AND name NOT LIKE 'sqlite_autoindex%' ORDER BY type, name",
      )
      .raw()
      .all() as string[][];
    const rows = objects.flatMap(([type, name, , sql]) => {
      if (type !== "table") return [];
      const columns = db.prepare("SELECT name FROM pragma_table_xinfo(?)").pluck().all(name) as string[];
      const values = columns.flatMap((c) => [quoted(c), `typeof(${quoted(c)})`, `hex(${quoted(c)})`]);
      const rowid = /WITHOUT ROWID/i.test(sql ?? "") || name === "sqlite_sequence" ? [] : ["rowid"];
      const order = name === "sqlite_sequence" ? " ORDER BY name" : "";
      return [
        [
          name,
          ...db
            .prepare(`SELECT ${[...rowid, ...values].join(", ")} FROM ${quoted(name ?? "")}${order}`)
            .raw()
            .safeIntegers(true)
            .all()
            .map(String),
        ],
      ];
    });
    return [...objects.filter((o) => o[1] !== "sqlite_sequence"), ...rows];
  } finally {
    db.close();
  }
}

function tableNow(path: string, name: string): Table {
  const db = new Database(path, { readonly: true });
  try {
    return findTable(inspectDatabase(db, []), name) as Table;
  } finally {
    db.close();
  }
}
const asItIs = (table: Table): ShapeColumn[] => table.columns.map((c, i) => ({ id: `c${i}`, from: c.name, name: c.name }));

function planned(path: string, spec: ShapeSpec): ReturnType<typeof planShape> {
  const db = new Database(path, { readonly: true });
  try {
    const { sql, taken } = shapeNow(db, spec.table);
    const now =
      spec.table === null
        ? null
        : {
            table: findTable(inspectDatabase(db, []), spec.table) as Table,
            sql: parseCreateTable(sql ?? "") as NonNullable<ReturnType<typeof parseCreateTable>>,
          };
    return planShape(spec, { now, tables: inspectDatabase(db, []).tables, taken, order: "dmy", today: usualDay("2026-11-28") });
  } finally {
    db.close();
  }
}

function surveyed(path: string, plan: ShapePlan) {
  const db = new Database(path, { readonly: true });
  try {
    return surveyIn(path, db, plan);
  } finally {
    db.close();
  }
}

const ENTRY = { at: "2026-11-30T00:00:00.000Z", by: "test", name: "shape", brief: "", table: "" };
/** Makes a change; the number of its entry, or why it was refused. */
function change(path: string, spec: ShapeSpec): number | string {
  const plan = planned(path, spec);
  if (!plan.ok) return plan.problems.map((p) => p.code).join(" ");
  try {
    return shapeTable(path, plan.value, surveyed(path, plan.value).digest, { ...ENTRY, kind: "shape" }).number;
  } catch (error) {
    if (!(error instanceof JobFailure)) throw error;
    return error.message;
  }
}
function takeBack(path: string, number: number, force = false): number {
  const db = new Database(path, { readonly: true });
  const schema = inspectDatabase(db, []);
  db.close();
  const { digest } = previewReversal(path, schema, number, force, join(place.folder, "preview.sqlite"));
  return reverse(path, schema, number, force, digest, { ...ENTRY, kind: "reversal" }).number;
}
const reshape = (table: string, alter: (columns: ShapeColumn[]) => ShapeColumn[], more: Partial<ShapeSpec> = {}): ShapeSpec => ({
  version: 1,
  table,
  name: table,
  columns: alter(asItIs(tableNow(file, table))),
  ...more,
});

/** Has a job done in a process of its own that is killed after a while; without one, lets it finish and tells how long it took. */
const jobKilled = (job: object, afterMs: number | null) =>
  new Promise<number>((done) => {
    const child = fork(resolve("dist/engine.mjs"), [], { serialization: "advanced", stdio: ["ignore", "ignore", "inherit", "ipc"] });
    let since = 0;
    child.on("message", (reply: object) => {
      if ("begun" in reply) return;
      if (!("ready" in reply)) return child.kill("SIGKILL");
      since = performance.now();
      child.send(job);
      if (afterMs !== null) setTimeout(() => child.kill("SIGKILL"), afterMs);
    });
    child.on("exit", () => done(performance.now() - since));
  });

const named = (names: Record<string, string>) => (columns: ShapeColumn[]) => columns.map((c) => ({ ...c, name: names[c.name] ?? c.name }));
const without = (name: string) => (columns: ShapeColumn[]) => columns.filter((c) => c.from !== name);
const typed = (name: string, type: ValueType) => (columns: ShapeColumn[]) => columns.map((c) => (c.from === name ? { ...c, type } : c));

/** The tables of the journal, by the names they have now; the latest entry first. */
function journalNames(): string[] {
  const db = new Database(file, { readonly: true });
  try {
    return readJournal(db).map((e) => e.table);
  } finally {
    db.close();
  }
}

/** A random change of a table: of one to three of its columns. */
function anyChange(random: () => number, table: Table): ShapeSpec {
  const pick = <T>(list: T[]): T => list[Math.floor(random() * list.length)] as T;
  let columns = asItIs(table);
  const type = () =>
    pick<ValueType>([{ kind: "text" }, { kind: "whole" }, { kind: "decimal", scale: 3 }, { kind: "date" }, { kind: "floating" }, { kind: "timestamp" }]);
  const at = (change: (c: ShapeColumn) => Partial<ShapeColumn>) => (list: ShapeColumn[]) => {
    const chosen = pick(list);
    return list.map((c) => (c === chosen ? { ...c, ...change(c) } : c));
  };
  const notSeven = { kind: "compare" as const, operator: "isNot" as const, to: { kind: "value" as const, text: "77" } };
  const written = `CONCAT_WS('-', ${table.columns.map((c) => `CAST(${writtenName(c.name)} AS TEXT)`).join(", ")})`;
  const alter: ((list: ShapeColumn[]) => ShapeColumn[])[] = [
    (list) => [...list, { id: `f${Math.floor(random() * 1e9)}`, from: null, name: `worked ${Math.floor(random() * 1e6)}`, formula: written }],
    (list) => list.filter((c) => c !== pick(list)),
    (list) => [
      ...list,
      {
        id: `n${list.length}`,
        from: null,
        name: pick(["new", "New one", 'a "quoted" one', "select"]),
        type: type(),
        ...(random() < 0.5 ? { fallback: "2026-01-01" } : {}),
      },
    ],
    at((c) => ({ name: pick(["first", columns[1]?.name ?? "x", c.name.toUpperCase()]) })),
    at(() => ({ type: type(), misfits: "empty" })),
    (list) => list.toReversed(),
    (list) => {
      const from = pick(list.flatMap((c) => c.from ?? []));
      return from === undefined
        ? list
        : [...list, { id: "l", from: null, name: "site", lookup: { from, table: "yard", match: "name", give: "id", link: random() < 0.7 } }];
    },
    at(() => ({ required: random() < 0.5, different: random() < 0.3, fill: "1" })),
    at(() => ({ check: random() < 0.3 ? null : notSeven })),
  ];
  for (let n = 0; n <= random() * 3; n++) if (columns.length > 0) columns = pick(alter)(columns);
  const name = random() < 0.2 ? pick(["renamed", table.name.toUpperCase()]) : table.name;
  const key =
    random() < 0.2
      ? {
          key: pick<NonNullable<ShapeSpec["key"]>>([
            { kind: "number", name: "number" },
            { kind: "columns", ids: columns.slice(0, 1).map((c) => c.id) },
            { kind: "columns", ids: [] },
          ]),
        }
      : {};
  return { version: 1, table: table.name, name, columns, ...key };
}

describe("a table's shape", () => {
  it.each(Array.from({ length: RUNS }, (_, i) => i + 1))("is changed at random and taken back, all as it was; seed %i", (seed) => {
    const random = seeded(seed).next;
    new Database(file).exec(SCRIPT).close();
    const states: { number: number; before: unknown[] }[] = [];
    for (let n = 0; n < 5; n++) {
      const db = new Database(file, { readonly: true });
      const tables = inspectDatabase(db, []).tables.filter((t) => !t.view);
      db.close();
      const before = dump(file);
      const done = change(file, anyChange(random, tables[Math.floor(random() * tables.length)] as Table));
      if (typeof done === "number") states.push({ number: done, before });
      else expect([done, dump(file)]).toEqual([done, before]);
    }
    const changed = dump(file);
    const reversals = states.toReversed().map(({ number, before }) => {
      const reversal = takeBack(file, number);
      expect(dump(file)).toEqual(before);
      return { reversal, before };
    });
    // And taking those back makes the changes again.
    for (const { reversal } of reversals.toReversed()) takeBack(file, reversal);
    expect(dump(file)).toEqual(changed);
  });

  describe("of a table that others use", () => {
    beforeEach(() => void new Database(file).exec(SCRIPT).close());
    const refusedFor = (spec: ShapeSpec, why: string) => {
      const before = dump(file);
      expect(change(file, spec)).toContain(why);
      expect(dump(file)).toEqual(before);
    };

    it("takes views, triggers, indexes and foreign keys along with names", () => {
      expect(change(file, reshape("yard", named({ id: "no", name: "title" }), { name: "site" }))).toBe(1);
      expect(change(file, reshape("crate", named({ fee: "price" }), {}))).toBe(2);
      const db = new Database(file);
      expect(db.prepare("SELECT * FROM yards ORDER BY 1").raw().all()).toEqual([
        ["north", 1],
        ["south", 1],
      ]);
      expect(db.prepare('SELECT "table", "from", "to" FROM pragma_foreign_key_list(?)').raw().all("crate")).toEqual([["site", "yard id", "no"]]);
      db.exec("UPDATE crate SET price = 7 WHERE mark = 'a'");
      expect(db.prepare("SELECT * FROM seen_fee").pluck().all()).toEqual([7]);
      expect(db.prepare("SELECT COUNT(*) FROM pragma_index_list('crate')").pluck().get()).toBe(4);
      db.close();
      // Entries go by the name that their table has now; another table of the old name is not theirs.
      expect(change(file, { ...edit.startTable(), name: "yard", columns: [{ id: "a", from: null, name: "a" }] })).toBe(3);
      expect(journalNames()).toEqual(["yard", "crate", "site"]);
    });
    it("refuses what a view, a trigger, a check, a computed column, a key or another table's foreign key needs", () => {
      refusedFor(reshape("yard", without("name")), "view yards: no such column");
      refusedFor(reshape("crate", without("fee")), "is used by a check, a key or a computed column");
      refusedFor(reshape("crate", without("mark")), "“mark” is used by");
      // The trigger gives one value to a row that would have two.
      refusedFor(
        reshape("seen_fee", (c) => [...c, { id: "n", from: null, name: "n" }]),
        "a trigger on crate: table seen_fee has 2 columns",
      );
      refusedFor(reshape("yard", typed("id", { kind: "text" })), "AUTOINCREMENT");
      refusedFor(
        reshape("line", (c) => c, { key: { kind: "columns", ids: ["c0"] } }),
        "shapeKeyFixed",
      );
      refusedFor(
        reshape("crate", (c) => c.map((one) => (one.from === "yard id" ? { ...one, fill: "99" } : one))),
        "rows of other tables would lead",
      );
    });
    it("takes a change back only as long as the table is as it left it", () => {
      const before = dump(file);
      const first = change(file, reshape("loose", typed("amount", { kind: "floating" }), {})) as number | string;
      expect(first).toContain("some of its values are invalid");
      const one = change(file, reshape("loose", named({ amount: "sum" }))) as number;
      const two = change(file, reshape("loose", without("mark"))) as number;
      expect(() => takeBack(file, one)).toThrow("The columns of the table have changed since");
      takeBack(file, two);
      takeBack(file, one);
      expect(dump(file)).toEqual(before);
    });
    it("goes on counting where it was, though the key was gone in between", () => {
      new Database(file)
        .exec("CREATE TABLE n (id INTEGER PRIMARY KEY AUTOINCREMENT, v); INSERT INTO n VALUES (5, 'a'), (9, 'b'); DELETE FROM n WHERE id = 9")
        .close();
      const before = dump(file);
      const number = change(
        file,
        reshape("n", (c) => c, { key: { kind: "columns", ids: [] } }),
      ) as number;
      takeBack(file, number);
      expect(dump(file)).toEqual(before);
    });
    it("stops where a column that was not to be changed would be another", () => {
      const db = new Database(file);
      const text = tableText(db, "loose") as string;
      const moves = (amount: string) => [
        { to: "mark", value: "o.mark", same: "mark" },
        { to: "amount", value: amount, same: "amount" },
      ];
      const anew = (amount: string) =>
        rebuild(db, { table: "loose", name: "loose", sql: text, moves: moves(amount), identity: identityOf(text, text, (c) => c) });
      expect(() => db.transaction(() => anew("o.amount || ''"))()).not.toThrow();
      expect(() => db.transaction(() => anew("CASE o.amount WHEN '2' THEN '2.0' ELSE o.amount END"))()).toThrow("would not stay the same");
      db.close();
    });
    it("lets an index go with the column it needs, and brings it back with it", () => {
      new Database(file).exec("CREATE INDEX loose_amount ON loose (amount)").close();
      const before = dump(file);
      const spec = reshape("loose", without("amount"));
      const plan = planned(file, spec);
      expect(plan.ok && surveyed(file, plan.value)).toMatchObject({ lostIndexes: ["loose_amount"], dropped: [{ label: "amount", values: 3 }] });
      takeBack(file, change(file, spec) as number);
      expect(dump(file)).toEqual(before);
    });
    it("drops a table unless a foreign key or a view needs it, and brings it back with all that belonged to it", () => {
      const drop = (name: string) => dropWhole(file, tableNow(file, name), { ...ENTRY, kind: "shape", table: name });
      expect(() => drop("yard")).toThrow("a foreign key of “crate”, “leg” leads to it");
      expect(() => drop("seen_fee")).toThrow("trigger on_crate");
      new Database(file).exec("DROP VIEW yards").close();
      const before = dump(file);
      const { number } = drop("crate");
      expect(() => tableNow(file, "crate").name).toThrow();
      takeBack(file, number);
      expect(dump(file)).toEqual(before);
    });
    it("says what a change of the type comes to, waits for each value, and keeps what it emptied", () => {
      const spec = (more: Partial<ShapeColumn>) =>
        reshape("loose", (c) => c.map((one) => (one.from === "amount" ? { ...one, type: { kind: "decimal", scale: 2 }, ...more } : one)));
      const survey = (more: Partial<ShapeColumn>) => {
        const plan = planned(file, spec(more));
        return plan.ok ? surveyed(file, plan.value).columns.c1 : plan.problems;
      };
      expect(survey({})).toMatchObject({ misfits: { rows: 1, values: [{ written: "3,5", rows: 1 }] }, empty: 0 });
      refusedFor(spec({}), "some of its values are invalid");
      new Database(file).exec("INSERT INTO loose VALUES ('d', '3/4/2026'), ('d', '31/12/2026'), ('d', '2026-03-04'), ('d', '3/4/2026')").close();
      expect(survey({ type: { kind: "date" } })).toMatchObject({ twoWays: { rows: 2, values: ["3/4/2026"] }, misfits: { rows: 3 } });
      expect(survey({ type: { kind: "date" }, dates: "ymd" })).not.toHaveProperty("twoWays");
      new Database(file).exec("DELETE FROM loose WHERE mark = 'd'").close();
      expect(survey({ mapped: [{ written: "3,5", text: "3.5" }] })).toMatchObject({ misfits: { rows: 0 } });
      expect(survey({ required: true, misfits: "empty" })).toMatchObject({ misfits: { rows: 1 }, empty: 1 });
      expect(survey({ check: { kind: "compare", operator: "atLeast", to: { kind: "value", text: "2" } }, misfits: "empty" })).toMatchObject({ broken: 1 });
      expect(survey({ different: true, mapped: [{ written: "3,5", text: "2.00" }] })).toMatchObject({ doubled: { rows: 2, values: ["200"] } });
      const number = change(file, spec({ misfits: "empty" })) as number;
      const db = new Database(file);
      expect(db.prepare("SELECT mark, amount FROM loose").raw().all()).toEqual([
        ["x", 100],
        ["x", 200],
        ["y", null],
      ]);
      // One value is changed since: the change is taken back only all the same, and the value goes along.
      db.exec("UPDATE loose SET amount = 175 WHERE amount = 100");
      expect(previewReversal(file, inspectDatabase(db, []), number, false, join(place.folder, "p.sqlite"))).toMatchObject({ back: 0, left: 1 });
      expect(() => takeBack(file, number)).toThrow("rows were changed since");
      expect(db.prepare("SELECT amount FROM loose").pluck().all()).toEqual([175, 200, null]);
      takeBack(file, number, true);
      expect(db.prepare("SELECT amount FROM loose").pluck().all()).toEqual(["1.75", "2", "3,5"]);
      db.close();
    });
  });

  describe("turned into a link", () => {
    beforeEach(() => {
      const script = `${SCRIPT} INSERT INTO yard (id, name) VALUES (10, 'Fennimore Kilns'), (11, 'NORTH'); INSERT INTO loose VALUES ('x', 'South '), ('x', 'south'), ('x', 'Fennimore Kiln'), ('x', 'North'), ('x', ' '), ('x', NULL), ('x', 'north')`;
      new Database(file).exec(script).close();
    });
    const linked = (more: Partial<ShapeColumn> = {}) =>
      reshape("loose", (c) => [
        { id: "l", from: null, name: "yard_id", lookup: { from: "amount", table: "yard", match: "name", give: "id", link: true }, ...more },
        ...c,
      ]);
    const ids = () => {
      const db = new Database(file, { readonly: true });
      try {
        return db.prepare("SELECT yard_id FROM loose").pluck().all();
      } finally {
        db.close();
      }
    };

    it("finds past case and blanks; tells what matches none or several, and what it may have meant", () => {
      const plan = planned(file, linked());
      expect(plan.ok && surveyed(file, plan.value).columns.l?.misfits).toEqual({
        rows: 5,
        values: [
          { written: "1", rows: 1, why: "no row of yard is called so" },
          { written: "2", rows: 1, why: "no row of yard is called so" },
          { written: "3,5", rows: 1, why: "no row of yard is called so" },
          { written: "Fennimore Kiln", rows: 1, why: "no row of yard is called so", near: "Fennimore Kilns" },
          { written: "North", rows: 1, why: "2 rows of yard are called so" },
        ],
      });
      const before = dump(file);
      const number = change(file, linked({ mapped: [{ written: "Fennimore Kiln", text: "fennimore kilns" }] })) as number;
      expect(ids()).toEqual([null, null, null, 2, 2, 10, null, null, null, 1]);
      const db = new Database(file);
      expect(db.prepare('SELECT "table", "to" FROM pragma_foreign_key_list(\'loose\')').raw().all()).toEqual([["yard", "id"]]);
      db.close();
      takeBack(file, number);
      expect(dump(file)).toEqual(before);
    });
    it("stops at what is not found where that is wished, and needs a table with a key", () => {
      expect(change(file, linked({ misfits: "refuse" }))).toContain("some of its values are invalid");
      expect(change(file, linked({ lookup: { from: "amount", table: "crate", match: "mark", give: "fee", link: true } }))).toBe("shapeLinkKey");
      expect(change(file, linked({ lookup: { from: "gone", table: "yard", match: "name", give: "id", link: true } }))).toBe("columnGone");
      expect(change(file, linked({ lookup: { from: "amount", table: "gone", match: "name", give: "id", link: true } }))).toBe("tableGone");
    });
    it("goes back into what the rows are called", () => {
      change(file, linked());
      const spec = edit.unlinkColumn(
        reshape("loose", (c) => c),
        "c0",
        tableNow(file, "yard"),
      );
      expect(spec.columns.map((c) => c.name)).toEqual(["yard", "mark", "amount"]);
      change(file, spec);
      const db = new Database(file);
      expect(db.prepare("SELECT yard FROM loose").pluck().all()).toEqual([null, null, null, "south", "south", null, null, null, null, "north"]);
      expect(db.prepare("SELECT * FROM pragma_foreign_key_list('loose')").all()).toEqual([]);
      db.close();
    });
  });

  describe("worked out by formulas", () => {
    beforeEach(() => {
      const script = `${SCRIPT} UPDATE loose SET amount = '77,33 €' WHERE amount = '2'; UPDATE loose SET mark = 'Pell, Anna, of Skarrow' WHERE amount = '1'`;
      new Database(file).exec(script).close();
    });
    const all = (sql: string) => allRows(file, sql);

    it("divides a column and joins it again, and is as before once that is taken back", () => {
      const before = dump(file);
      const loose = tableNow(file, "loose");
      const [mark, amount] = loose.columns as [Table["columns"][number], Table["columns"][number]];
      const start = reshape("loose", (c) => c);
      const divided = edit.splitColumn(start, mark, { separator: ",", parts: 2 });
      const first = change(file, divided) as number;
      expect(all("SELECT * FROM loose")).toEqual([
        ["Pell, Anna, of Skarrow", "Pell", "Anna, of Skarrow", "1"],
        ["x", "x", null, "77,33 €"],
        ["y", "y", null, "3,5"],
      ]);
      const second = change(file, edit.removeColumn(edit.joinColumns(start, [amount, mark], " / "), "c0")) as number;
      expect(all('SELECT "amount mark" FROM loose')).toEqual([["1 / Pell, Anna, of Skarrow"], ["77,33 € / x"], ["3,5 / y"]]);
      takeBack(file, second);
      takeBack(file, first);
      expect(dump(file)).toEqual(before);
    });
    it("reads what does not fit by a formula, and tells what does not fit then either", () => {
      const spec = (formula: string) =>
        reshape("loose", (c) =>
          c.map((one) => (one.from === "amount" ? { ...one, type: { kind: "decimal", scale: 2 }, misfits: "formula" as const, formula } : one)),
        );
      const told = (formula: string) => {
        const plan = planned(file, spec(formula));
        return plan.ok ? surveyed(file, plan.value).columns.c1?.misfits : plan.problems.map((p) => [p.code, ...p.path]);
      };
      expect(told("REPLACE(amount, ' €', '')")).toMatchObject({ rows: 2, values: [{ written: "3,5" }, { written: "77,33 €" }] });
      expect(told("REPLACE(REPLACE(amount, ',', '.'), ' €', '')")).toEqual({ rows: 0, values: [] });
      expect(told("REPLACE(amount")).toMatchObject([["syntax", "columns", "c1", "formula"]]);
      const before = dump(file);
      const number = change(file, spec("REPLACE(REPLACE(amount, ',', '.'), ' €', '')")) as number;
      expect(all("SELECT amount FROM loose")).toEqual([[100], [7733], [350]]);
      takeBack(file, number);
      expect(dump(file)).toEqual(before);
    });
    it("knows rows by a key of several columns, under the names there are before and after", () => {
      const spec = reshape("line", (c) => [
        ...named({ no: "number" })(c),
        { id: "w", from: null, name: "said", formula: "no || '-' || CAST(item AS TEXT)", required: true },
      ]);
      change(file, spec);
      expect(all("SELECT number, item, said FROM line")).toEqual([
        ["x", 1, "x-1"],
        ["x", 2, "x-2"],
        ["y", 1, "y-1"],
      ]);
      expect(
        change(
          file,
          reshape("line", (c) => [...c, { id: "w", from: null, name: "price 2", formula: "price", required: true }]),
        ),
      ).toContain("invalid");
    });
  });

  describe("divided from others", () => {
    const SALES = `CREATE TABLE sale (id INTEGER PRIMARY KEY, shop TEXT, town TEXT, fee INTEGER_SCALED(2), amount INTEGER);
      INSERT INTO sale VALUES (1, 'Pell', 'Skarrow', 150, 7), (2, 'pell ', 'Skarrow', 150, 8), (3, 'Oat', 'Holm', NULL, 9), (4, NULL, NULL, NULL, 1), (5, 'Pell', NULL, 150, 2), (6, 'Oat', '', 300, 3);
      CREATE VIEW sold AS SELECT amount FROM sale;`;
    beforeEach(() => void new Database(file).exec(SALES).close());
    const all = (sql: string) => allRows(file, sql);
    const split = (name = "shop") =>
      edit.splitTable(
        reshape("sale", (c) => c),
        { name, by: "shop", columns: ["town", "fee"] },
      );

    it("makes a table of columns that repeat, leads to its rows, and is as before once both are taken back", () => {
      const before = dump(file);
      const number = change(file, split()) as number;
      expect(number).toBe(2);
      expect(all("SELECT * FROM shop")).toEqual([
        [1, "Oat", "Holm", 300],
        [2, "Pell", "Skarrow", 150],
      ]);
      expect(all("SELECT * FROM sale")).toEqual([
        [1, 2, 7],
        [2, 2, 8],
        [3, 1, 9],
        [4, null, 1],
        [5, 2, 2],
        [6, 1, 3],
      ]);
      expect(tableNow(file, "shop").columns.map((c) => c.type)).toEqual([{ kind: "whole" }, { kind: "text" }, { kind: "text" }, { kind: "decimal", scale: 2 }]);
      expect(all('SELECT "table", "from", "to" FROM pragma_foreign_key_list(\'sale\')')).toEqual([["shop", "shop_id", "id"]]);
      takeBack(file, 2);
      takeBack(file, 1);
      expect(dump(file)).toEqual(before);
    });
    it("waits where one name has different values, and takes the most frequent where that is wished", () => {
      new Database(file).exec("UPDATE sale SET town = 'Mirrin' WHERE id = 2; INSERT INTO sale VALUES (7, 'Pell', 'Mirrin', 150, 1)").close();
      const before = dump(file);
      const plan = planned(file, split());
      expect(plan.ok && surveyed(file, plan.value).made).toEqual([
        { id: "new 1", table: "shop", label: "shop", rows: 2, differing: { names: 1, values: ["Pell: town Mirrin (2), Skarrow (1)"] } },
      ]);
      expect(change(file, split())).toContain("invalid");
      expect(dump(file)).toEqual(before);
      const link = split().columns[1]?.lookup as NonNullable<ShapeColumn["lookup"]>;
      const most = edit.setColumn(split(), "new 1", { lookup: { ...link, made: { columns: link.made?.columns ?? [], differing: "most" } } });
      change(file, most);
      expect(all("SELECT town FROM shop WHERE shop = 'Pell'")).toEqual([["Mirrin"]]);
    });
    it("waits where a row has no name and would lose its values", () => {
      new Database(file).exec("UPDATE sale SET town = 'Nowhere', shop = ' ' WHERE id = 4").close();
      const plan = planned(file, split());
      expect(plan.ok && surveyed(file, plan.value).made[0]?.differing).toEqual({ names: 1, values: ["without shop: 1 row with values that would be lost"] });
      expect(change(file, split())).toContain("invalid");
    });
    it("has a name that is free, and takes no column twice", () => {
      expect(change(file, split("sold"))).toBe("shapeNameTaken");
      expect(change(file, split("Sale"))).toBe("shapeNameTaken");
      expect(change(file, split("sqlite_x"))).toContain("shapeNameReserved");
    });
    it("adds the rows that names lack, each once, with an entry of its own; what several rows are called stops it", () => {
      new Database(file)
        .exec(
          "CREATE TABLE shop (id INTEGER PRIMARY KEY, name TEXT NOT NULL, note TEXT); INSERT INTO shop VALUES (4, 'PELL', NULL); INSERT INTO sale (shop) VALUES ('oat'), (' Holm')",
        )
        .close();
      const before = dump(file);
      const lookup = { from: "shop", table: "shop", match: "name", give: "id", link: true };
      const spec = (more: Partial<ShapeColumn> = {}) =>
        reshape("sale", (c) => [...c, { id: "l", from: null, name: "shop_id", misfits: "make" as const, lookup, ...more }]);
      const number = change(file, spec()) as number;
      expect(all("SELECT * FROM shop")).toEqual([
        [4, "PELL", null],
        [5, "Oat", null],
        [6, "Holm", null],
      ]);
      expect(all("SELECT shop_id FROM sale")).toEqual([[4], [4], [5], [null], [4], [5], [5], [6]]);
      takeBack(file, number);
      takeBack(file, number - 1);
      expect(dump(file)).toEqual(before);
      // A name that is said to be another is no row of its own.
      const meant = planned(file, spec({ mapped: [{ written: " Holm", text: "PELL" }] }));
      expect(meant.ok && surveyed(file, meant.value).made.map((m) => m.rows)).toEqual([1]);
      new Database(file).exec("INSERT INTO shop VALUES (9, 'Pell', NULL)").close();
      expect(change(file, spec())).toContain("invalid");
      new Database(file).exec("DELETE FROM shop WHERE id = 9; CREATE UNIQUE INDEX once ON shop (length(name))").close();
      expect(change(file, spec())).toMatch(/“Holm” cannot be added to shop/);
      new Database(file).exec("DROP INDEX once; ALTER TABLE shop ADD COLUMN kind TEXT NOT NULL DEFAULT 'x'").close();
      expect(change(file, spec())).toBeGreaterThan(number);
      new Database(file).exec("CREATE TABLE stall (id INTEGER PRIMARY KEY, name TEXT, kind TEXT NOT NULL)").close();
      expect(change(file, spec({ name: "stall_id", lookup: { ...lookup, table: "stall" } }))).toBe("shapeMakeRequired");
    });
  });

  it("is as it was, to the byte, where there is no room to write it", async () => {
    const rows = "WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 120000) INSERT INTO loose SELECT 'a mark of some length ' || i, i FROM n";
    new Database(file).exec(SCRIPT).exec(rows).close();
    const spec = reshape("loose", (c) => c.map((one) => (one.from === "amount" ? { ...one, type: { kind: "whole" }, misfits: "empty" as const } : one)));
    const plan = planned(file, spec);
    if (!plan.ok) throw new Error("not planned");
    const { digest } = surveyed(file, plan.value);
    const before = readFileSync(file);
    const job = { kind: "shape", database: file, plan: plan.value, digest, entry: { ...ENTRY, kind: "shape" } };
    // A file may grow by a sixth more in that process.
    const limit = Math.ceil((before.length * 7) / 6 / 1024);
    const child = spawn("bash", ["-c", `trap '' XFSZ; ulimit -f ${limit}; exec "${process.execPath}" dist/engine.mjs`], {
      stdio: ["ignore", "ignore", "inherit", "ipc"],
      serialization: "advanced",
    });
    const reply = await new Promise((done) =>
      child.on("message", (told: object) => ("ready" in told ? child.send(job) : "progress" in told || "begun" in told ? undefined : done(told))),
    );
    child.kill("SIGKILL");
    expect(reply).toMatchObject({ failure: { code: "diskFull" } });
    expect(readFileSync(file).equals(before)).toBe(true);
  });

  /** How often; more by hand. */
  const KILLS = Number(process.env.KILLS ?? 12);
  it(`is as before or as after where its process is killed: ${KILLS} times at random moments`, async () => {
    new Database(file)
      .exec(SCRIPT)
      .exec("WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 20000) INSERT INTO loose SELECT 'm' || i, i FROM n")
      .close();
    const start = join(place.folder, "start.sqlite");
    copyFileSync(file, start);
    const plan = planned(
      file,
      reshape("loose", (c) => c.map((one) => (one.from === "amount" ? { ...one, type: { kind: "whole" }, misfits: "empty" } : one))),
    );
    if (!plan.ok) throw new Error("not planned");
    const { digest } = surveyed(file, plan.value);
    const job = { kind: "shape", database: file, plan: plan.value, digest, entry: { ...ENTRY, kind: "shape" } };
    const random = seeded(7).next;
    let whole = await jobKilled(job, null);
    const states = { before: dump(start), after: dump(file) };
    expect(states.after).not.toEqual(states.before);
    let made = 0;
    for (let n = 0; n < KILLS; n++) {
      copyFileSync(start, file);
      rmSync(`${file}-journal`, { force: true });
      const moment = random() * 1.4;
      const took = await jobKilled(job, moment * whole);
      // The first who reads it afterwards puts it right.
      const after = new Database(file);
      after.prepare("SELECT COUNT(*) FROM sqlite_schema").get();
      after.close();
      const now = dump(file);
      expect(JSON.stringify(now) === JSON.stringify(states.before) || JSON.stringify(now) === JSON.stringify(states.after)).toBe(true);
      expect(journalNames().length).toBe(JSON.stringify(now) === JSON.stringify(states.after) ? 1 : 0);
      if (journalNames().length === 1) made++;
      whole = journalNames().length === 1 ? Math.min(whole, took) : moment > 1 ? whole * 1.3 : whole;
    }
    expect([made > 0, made < KILLS]).toEqual([true, true]);
  });
});
