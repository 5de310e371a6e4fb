import { fork } from "node:child_process";
import { copyFileSync, existsSync, rmSync } from "node:fs";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { EVERY_ENTRY, type JournalExport, type JournalFind } from "@/core/posting/journalFind";
import { OUTCOMES, type Outcome, type OutcomeRow, rowsWritten, tallies, wouldDouble } from "@/core/posting/outcome";
import { originOfTable, resolvePosting } from "@/core/posting/plan";
import type { NextStep, Pair, PostingSpec } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import { tidyPosting } from "@/core/posting/tidy";
import { findTable, type Schema, type Table } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { readJournal } from "@/server/jobs/posting/journal";
import { findEntries, type JournalQuestion, peopleIn } from "@/server/jobs/posting/journalFind";
import { journalTable } from "@/server/jobs/posting/journalTable";
import { previewRows } from "@/server/jobs/posting/preview";
import { post, previewPosting, previewReversal, reverse } from "@/server/jobs/posting/run";
import { stageQuery } from "@/server/jobs/posting/stage";
import type { PostingJob } from "@/server/jobs/work";
import { sqliteReading } from "@/server/source/read";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { allRows, makeDatabase, temporaryFolder } from "../support/ledger";

/* Postings as properties over tables of every kind SQLite has: the preview is the outcome, and a reversal is the way back, to the last byte of every row. */

const SEED = 20261125;
let place: ReturnType<typeof temporaryFolder>;
let file: string;
beforeEach(() => {
  place = temporaryFolder();
  file = join(place.folder, "business.sqlite");
});
afterEach(() => place.remove());

const SCRIPT = `
CREATE TABLE yard (id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE);
INSERT INTO yard VALUES (1, 'north'), (2, 'south'), (3, 'east');
CREATE TABLE crate (id INTEGER PRIMARY KEY AUTOINCREMENT, mark TEXT NOT NULL UNIQUE, yard_id INTEGER REFERENCES yard(id), fee INTEGER_SCALED(2),
  ratio REAL, day DATE, sealed BOOLEAN, note VARCHAR(8), raw BLOB, CHECK (fee >= -100000));
INSERT INTO crate (mark, yard_id, fee, ratio, day, sealed, note, raw) VALUES ('a', 1, 1250, 0.1, '2026-01-31', 1, 'x', x'00ff'), ('b', 2, 9007199254740993, 1e-7, NULL, 0, NULL, NULL),
  ('c', NULL, NULL, NULL, '2024-02-29', NULL, 'é', x''), ('d', 3, -5, 3.0, '2026-01-01', 1, '', NULL);
CREATE TABLE stamp (crate_mark TEXT REFERENCES crate(mark), n INTEGER, PRIMARY KEY (crate_mark, n)) WITHOUT ROWID;
INSERT INTO stamp VALUES ('a', 1), ('a', 2), ('d', 1);
CREATE TABLE loose (mark TEXT, fee REAL);
INSERT INTO loose VALUES ('p', 1.5), ('p', 1.5), ('q', 2);
CREATE TABLE incoming (mark TEXT, yard TEXT, fee TEXT, day TEXT, note TEXT);
CREATE TABLE parked (n INTEGER PRIMARY KEY AUTOINCREMENT, mark TEXT, yard TEXT, fee TEXT, day TEXT, note TEXT);
CREATE TABLE tag (parked_n INTEGER REFERENCES parked(n));
`;

/** Everything in a file but the journal: every row of every table with its rowid, and the numbers given out. */
function everything(path: string): string {
  const db = new Database(path, { readonly: true });
  const tables = db.prepare("SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'next_ledger%' ORDER BY name").pluck().all() as string[];
  const dump = tables.map((name) => {
    const columns = (db.prepare("SELECT name FROM pragma_table_info(?)").pluck().all(name) as string[]).map((c) => `quote("${c}")`);
    const rowid = name === "stamp" ? [] : ["rowid"];
    return [
      name,
      db
        .prepare(`SELECT ${[...rowid, ...columns].join(", ")} FROM "${name}" ORDER BY 1, 2`)
        .raw()
        .all(),
    ];
  });
  db.close();
  return JSON.stringify(dump);
}

function schemaOf(path: string): Schema {
  const db = new Database(path, { readonly: true });
  const schema = inspectDatabase(db, []);
  db.close();
  return schema;
}

const field = (column: string, name = column, more: Partial<Pair> = {}): Pair => ({ column, value: { kind: "field", name }, ...more });
const incoming = (more: Partial<PostingSpec> = {}): PostingSpec => ({
  version: 1,
  source: { kind: "table", table: "incoming" },
  action: "add",
  target: "crate",
  same: ["mark"],
  present: "leave",
  breaking: "refuse",
  pairs: [
    field("mark"),
    field("yard_id", "yard", { found: { link: "crate.yard_id", by: "code" } }),
    field("fee"),
    field("day", "day", { dates: "dmy" }),
    field("note"),
  ],
  ...more,
});

/** A stamp for each row of the first step's source. */
const stampStep = (action: "add" | "remove"): NextStep => ({
  source: null,
  action,
  target: "stamp",
  same: ["crate_mark", "n"],
  present: "leave",
  breaking: "refuse",
  pairs: [field("crate_mark", "mark"), { column: "n", value: { kind: "formula", text: "7" } }],
});

function jobOf(path: string, spec: PostingSpec): PostingJob {
  const schema = schemaOf(path);
  const sources = stepsOf(spec).map(({ source }) => {
    const table = findTable(schema, (source as { table: string }).table) as Table;
    return { table, origin: originOfTable(table) };
  });
  const made = resolvePosting(spec, schema, sources, usualDay("2026-11-23"));
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return { steps: made.value.map(({ posting, rows }) => ({ plan: posting, source: { database: path, rows } })), controls: spec.controls ?? [] };
}

const entry = { at: "2026-11-23T08:00:00Z", by: "a test", kind: "posting" as const, name: "test", brief: "", table: "crate" };
const preview = (path: string, job: PostingJob) => {
  const out = join(place.folder, "preview.sqlite");
  const tally = previewPosting(path, job, out);
  const rowsOf = (step: number) => JSON.parse(previewRows(out, { step, outcomes: [], offset: 0, rows: 100_000 }).toString()) as OutcomeRow[];
  return { tally, rows: rowsOf(0), rowsOf };
};
const takeBack = (path: string, number: number, force = false) => {
  const schema = schemaOf(path);
  const { digest, left, back } = previewReversal(path, schema, number, force, join(place.folder, "reversal.sqlite"));
  const done = reverse(path, schema, number, force, digest, { at: entry.at, by: entry.by, kind: "reversal", name: "back", brief: "" });
  return { left, back, number: done.number };
};
const fill = (path: string, rows: (string | null)[][]) => {
  const db = new Database(path);
  const insert = db.prepare("INSERT INTO incoming VALUES (?, ?, ?, ?, ?)");
  const park = db.prepare("INSERT INTO parked (mark, yard, fee, day, note) VALUES (?, ?, ?, ?, ?)");
  for (const row of rows) {
    insert.run(row);
    park.run(row);
  }
  db.close();
};

describe("what a preview says of rows", () => {
  it("gives each its outcome, with the reason where it is refused", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [
      ["new", "north", "12.50", "3/11/2026", "ok"],
      ["a", "north", "1.00", "3/11/2026", null],
      ["new", "north", "12.50", "3/11/2026", "ok"],
      ["b", "south", "90071992547409.93", null, null],
      ["c", null, "a lot", "29/2/2024", "é"],
      ["far", "nowhere", "1", "1/1/2026", null],
      ["feb", "south", "1", "30/2/2026", null],
      ["long", "south", "1", null, "much too long a note"],
      ["dear", "south", "1.234", null, null],
      ["text", "south", "a lot", null, null],
      [null, "south", "1", null, null],
      ["low", "south", "-2000", null, null],
    ]);
    const before = everything(file);
    const { tally, rows } = preview(file, jobOf(file, incoming()));
    expect(rows.map((r) => [r.outcome, r.why])).toEqual([
      ["add", null],
      ["differs", null],
      ["repeated", "the same as row 1"],
      ["there", null],
      // What does not fit does not matter where nothing is written: it is another value all the same.
      ["differs", null],
      ["refused", "yard id: “nowhere”: no such code"],
      ["refused", "day: “30/2/2026” is not a date"],
      ["refused", "note: “much too long a note…” is longer than the 8 characters of note"],
      ["refused", "fee: 1.234 has more decimal places than fee (2)"],
      ["refused", "fee: “a lot” is not a decimal"],
      ["refused", "mark is empty"],
      ["refused", "a check of the table failed (fee >= -100000)"],
    ]);
    const [, differs] = rows;
    expect([differs?.from, differs?.cells.slice(0, 3)]).toEqual([
      ["a", "north", 1250, "2026-01-31", "x"],
      ["a", "north", 100],
    ]);
    expect(OUTCOMES.reduce((sum, o) => sum + tally.outcomes[o], 0)).toBe(tally.source);
    expect([tally.rowsBefore, tally.rowsAfter]).toEqual([4, 5]);
    expect(everything(file), "a preview changes nothing").toBe(before);
  });
  it("counts rows added before, and says since which posting; made again, it adds none", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [
      ["new", "north", "1", null, null],
      ["other", "south", "2", null, null],
    ]);
    const job = jobOf(file, incoming());
    expect(post(file, job, { digest: preview(file, job).tally.digest, again: true, entry }).number).toBe(1);
    const again = preview(file, jobOf(file, incoming()));
    expect(again.tally.since).toEqual([{ posting: 1, rows: 2 }]);
    expect(again.tally.outcomes.add).toBe(0);
  });
  it("refuses a row for a value that does not fit only where that would be written, or tells which row is meant", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [
      ["a", null, "a lot", null, null],
      ["gone", null, "a lot", null, null],
      [null, null, "1", null, null],
      ["c", null, "2", null, null],
      ["c", null, "a lot", null, null],
    ]);
    const outcomes = (more: Partial<PostingSpec>) =>
      preview(file, jobOf(file, incoming({ pairs: [field("mark"), field("fee")], ...more }))).rows.map((r) => r.outcome);
    expect(outcomes({ present: "change" })).toEqual(["refused", "refused", "refused", "change", "repeated"]);
    expect(outcomes({ action: "change" })).toEqual(["refused", "unmatched", "refused", "change", "repeated"]);
    expect(outcomes({ action: "remove", breaking: "allow" })).toEqual(["remove", "unmatched", "refused", "remove", "repeated"]);
  });
  it("adds up amounts, before and after, and no number that is a name", () => {
    makeDatabase(
      file,
      `CREATE TABLE sale ("sale ID" INTEGER, "shop no" INTEGER, amount DECIMAL(9, 2)); CREATE TABLE new_sale (a INTEGER, b INTEGER, c DECIMAL(9, 2));`,
    );
    const pairs = [field("sale ID", "a"), field("shop no", "b"), field("amount", "c")];
    const job = jobOf(file, { ...incoming(), source: { kind: "table", table: "new_sale" }, target: "sale", same: ["sale ID"], pairs });
    expect(preview(file, job).tally.totals.map((t) => t.column)).toEqual(["amount"]);
  });
  it("refuses to remove or rename what others lead to, unless it is said to", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [
      ["a", null, null, null, null],
      ["b", null, null, null, null],
    ]);
    const removing = incoming({ action: "remove", pairs: [field("mark")] });
    expect(preview(file, jobOf(file, removing)).rows.map((r) => [r.outcome, r.why])).toEqual([
      ["refused", "2 stamps lead to it"],
      ["remove", null],
    ]);
    expect(preview(file, jobOf(file, { ...removing, breaking: "allow" })).tally.outcomes.remove).toBe(2);
  });
  it("is made anew where the table changed before it was posted", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [["new", "north", "1", null, null]]);
    const job = jobOf(file, incoming());
    const { digest } = preview(file, job).tally;
    const db = new Database(file);
    db.exec("INSERT INTO crate (mark) VALUES ('new')");
    db.close();
    const before = everything(file);
    expect(() => post(file, job, { digest: digest, again: true, entry })).toThrow(/changed since the preview/);
    expect(everything(file)).toBe(before);
  });
});

const incomingRow = fc.tuple(
  fc.constantFrom("a", "b", "c", "d", "e", "f", "g", "h", null),
  fc.constantFrom("north", "south", "east", "nowhere", null),
  fc.constantFrom("1", "-2.50", "1e3", "99999999999999.99", "-5000", null, ""),
  fc.constantFrom("31/1/2026", "30/2/2026", "2026-03-04", null),
  fc.constantFrom("ok", "", "é", "too long for it", null),
);
const specArbitrary = fc.record({
  action: fc.constantFrom("add" as const, "change" as const, "remove" as const, "move" as const),
  present: fc.constantFrom("leave" as const, "change" as const, "add" as const),
  breaking: fc.constantFrom("refuse" as const, "allow" as const),
  same: fc.constantFrom<string[]>(["mark"], ["yard_id"], ["mark", "day"], ["note"]),
  existing: fc.constantFrom(undefined, "keep" as const, "fill" as const),
  second: fc.constantFrom<NextStep[]>([], [stampStep("add")], [stampStep("remove")], [stampStep("add"), stampStep("remove")]),
});
const drawnSpec = ({ existing, second, ...drawn }: typeof specArbitrary extends fc.Arbitrary<infer T> ? T : never): PostingSpec => {
  const { pairs } = incoming();
  return incoming({
    ...drawn,
    ...(drawn.action === "move" ? { source: { kind: "table", table: "parked" } } : {}),
    pairs: pairs.map((p) => (existing && p.column === "fee" ? { ...p, existing } : p)),
    ...(second.length > 0 ? { steps: second } : {}),
  });
};

describe("postings made at random", () => {
  it("do what their preview says, add up, and are taken back to the last value, and again", () => {
    makeDatabase(join(place.folder, "start.sqlite"), SCRIPT);
    fc.assert(
      fc.property(fc.array(incomingRow, { maxLength: 12 }), fc.array(specArbitrary, { minLength: 1, maxLength: 3 }), (rows, specs) => {
        copyFileSync(join(place.folder, "start.sqlite"), file);
        fill(file, rows);
        const states = [everything(file)];
        for (const drawn of specs) {
          const spec = drawnSpec(drawn);
          const job = jobOf(file, spec);
          const { tally, rowsOf } = preview(file, job);
          expect(everything(file)).toBe(states.at(-1));
          const marks = column(file, "SELECT mark FROM crate");
          const parked = column(file, "SELECT n FROM parked");
          tallies(tally).forEach((step, i) => {
            expect(
              rowsOf(i)
                .map((r) => r.outcome)
                .sort(),
            ).toEqual(OUTCOMES.flatMap((o) => Array(step.outcomes[o]).fill(o)).sort());
            expect(rowsOf(i).length).toBe(step.source);
            if (!step.origin) expect(step.rowsAfter - step.rowsBefore).toBe(step.outcomes.add - step.outcomes.remove);
            else expect(step.origin.before - step.origin.after).toBe(step.outcomes.move);
          });
          const made = post(file, job, { digest: tally.digest, again: false, entry });
          const all = (outcome: Outcome) => tallies(tally).reduce((sum, step) => sum + step.outcomes[outcome], 0);
          // A row that is moved is removed, and is added or changed elsewhere unless it was there as it is.
          const landed = made.counts.add + made.counts.change - all("add") - all("change");
          expect(made.counts.remove).toBe(all("remove") + all("move"));
          if (all("move") === 0) expect(made.counts).toEqual({ add: all("add"), change: all("change"), remove: all("remove") });
          expect(landed).toBeGreaterThanOrEqual(0);
          expect(landed).toBeLessThanOrEqual(all("move"));
          expect(tallies(tally).reduce((sum, step) => sum + rowsWritten(step), 0)).toBe(all("add") + all("change") + all("remove") + all("move"));
          // What has left one table is in the other, and what is still there has not been doubled.
          const left = rowsOf(0).filter((r) => r.outcome === "move");
          const now = column(file, "SELECT mark FROM crate");
          for (const { cells } of left) expect(now).toContain(cells[0]);
          expect(parked.length - column(file, "SELECT n FROM parked").length).toBe(left.length);
          if (drawn.action === "move" && drawn.present !== "change" && drawn.second.length === 0) expect(now.length - marks.length).toBe(made.counts.add);
          states.push(everything(file));
        }
        const posted = states.at(-1);
        const numbers = specs.map((_, i) => specs.length - i);
        const reversals = numbers.map((number) => {
          const { left, number: made } = takeBack(file, number, true);
          expect(left).toBe(0);
          expect(everything(file)).toBe(states[number - 1]);
          return made;
        });
        // A reversal is an entry too: taken back in turn, the postings stand again.
        for (const number of reversals.reverse()) takeBack(file, number, true);
        expect(everything(file)).toBe(posted);
      }),
      { numRuns: 80, seed: SEED },
    );
  });
  it("leave rows that somebody changed since, and say which", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [
      ["new", "north", "1", null, null],
      ["other", "south", "2", null, null],
    ]);
    const job = jobOf(file, incoming());
    post(file, job, { digest: preview(file, job).tally.digest, again: true, entry });
    const db = new Database(file);
    db.exec("UPDATE crate SET note = 'mine' WHERE mark = 'other'");
    db.close();
    const numbered = column(file, "SELECT seq FROM sqlite_sequence WHERE name = 'crate'");
    expect(takeBack(file, 1)).toMatchObject({ back: 1, left: 1 });
    // A number is given again only where every row is as it was.
    expect(column(file, "SELECT seq FROM sqlite_sequence WHERE name = 'crate'")).toEqual(numbered);
    const left = new Database(file, { readonly: true });
    expect(left.prepare("SELECT mark FROM crate WHERE mark IN ('new', 'other')").pluck().all()).toEqual(["other"]);
    left.close();
  });
});

/** The first column of what a database answers. */
function column(path: string, sql: string): unknown[] {
  const db = new Database(path, { readonly: true });
  const values = db.prepare(sql).pluck().all();
  db.close();
  return values;
}

describe("rows that are moved", () => {
  const moving = (more: Partial<PostingSpec> = {}) => incoming({ action: "move", source: { kind: "table", table: "parked" }, ...more });
  it("leave their table only where they arrive, and both tables are as before when it is reversed", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [
      ["new", "north", "1", null, null],
      ["a", "north", "12.50", "31/1/2026", "x"],
      ["b", "south", "1", null, null],
      ["far", "nowhere", "1", null, null],
      ["held", "north", "1", null, null],
      ["new", "north", "1", null, null],
    ]);
    const db = new Database(file);
    db.exec("INSERT INTO tag VALUES (5)");
    db.close();
    const before = everything(file);
    const { tally, rows } = preview(file, jobOf(file, moving()));
    expect(rows.map((r) => [r.outcome, r.why])).toEqual([
      ["move", null],
      ["move", null],
      ["differs", null],
      ["refused", "yard id: “nowhere”: no such code"],
      ["refused", "1 tag leads to it"],
      ["repeated", "the same as row 1"],
    ]);
    expect([tally.rowsBefore, tally.rowsAfter, tally.origin]).toEqual([4, 5, { table: "parked", label: "parked", before: 6, after: 4, lost: ["n"] }]);
    const made = post(file, jobOf(file, moving()), { digest: tally.digest, again: false, entry });
    expect([made.counts, made.others]).toEqual([{ add: 1, change: 0, remove: 2 }, ["parked"]]);
    expect(column(file, "SELECT n FROM parked")).toEqual([3, 4, 5, 6]);
    expect(column(file, "SELECT mark FROM crate")).toEqual(["a", "b", "c", "d", "new"]);
    expect(takeBack(file, 1)).toMatchObject({ back: 3, left: 0 });
    expect(everything(file)).toBe(before);
    const undone = readJournal(new Database(file, { readonly: true }))[0];
    expect([undone?.table, undone?.others]).toEqual(["crate", ["parked"]]);
    takeBack(file, 2);
    expect(column(file, "SELECT n FROM parked")).toEqual([3, 4, 5, 6]);
  });
  it("are not found once they are gone", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [["new", "north", "1", null, null]]);
    const job = jobOf(file, moving());
    const staged = { ...job, steps: job.steps.map((s) => ({ ...s, source: { ...s.source, database: join(place.folder, "copy.sqlite") } })) };
    copyFileSync(file, join(place.folder, "copy.sqlite"));
    post(file, job, { digest: preview(file, job).tally.digest, again: false, entry });
    expect(preview(file, staged).rows.map((r) => r.outcome)).toEqual(["unmatched"]);
  });
  it("of a query that repeats them leave once", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [["new", "north", "1", null, null]]);
    const job = jobOf(file, moving({ present: "add", same: [] }));
    const twice = join(place.folder, "twice.sqlite");
    copyFileSync(file, twice);
    const db = new Database(twice);
    db.exec(
      "ALTER TABLE parked RENAME TO old; CREATE TABLE parked AS SELECT * FROM old UNION ALL SELECT n, 'again', yard, fee, day, note FROM old; DROP TABLE old",
    );
    db.close();
    const { rows } = preview(file, { ...job, steps: job.steps.map((s) => ({ ...s, source: { ...s.source, database: twice } })) });
    expect(rows.map((r) => [r.outcome, r.why])).toEqual([
      ["move", null],
      ["repeated", "the same as row 1"],
    ]);
  });
});

describe("a document with its lines", () => {
  const document = (more: Partial<PostingSpec> = {}): PostingSpec => incoming({ steps: [stampStep("add")], ...more });
  it("is posted in one, the lines finding the rows that came before them, and is taken back in one", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [
      ["new", "north", "1", null, null],
      ["far", "nowhere", "1", null, null],
    ]);
    const before = everything(file);
    const { tally, rowsOf } = preview(file, jobOf(file, document()));
    expect(rowsOf(0).map((r) => r.outcome)).toEqual(["add", "refused"]);
    expect(rowsOf(1).map((r) => [r.outcome, r.why])).toEqual([
      ["add", null],
      ["refused", "“far”: no such crate mark"],
    ]);
    const made = post(file, jobOf(file, document()), { digest: tally.digest, again: false, entry });
    expect([made.counts.add, made.others]).toEqual([2, ["stamp"]]);
    expect(preview(file, jobOf(file, document())).tally).toMatchObject({ outcomes: { there: 1 }, next: [{ outcomes: { there: 1 } }] });
    expect(takeBack(file, 1)).toMatchObject({ back: 2, left: 0 });
    expect(everything(file)).toBe(before);
  });
  it("leaves what cannot be taken back of each table, and says why", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [["new", "north", "1", null, null]]);
    post(file, jobOf(file, document()), { digest: preview(file, jobOf(file, document())).tally.digest, again: false, entry });
    const db = new Database(file);
    db.exec("INSERT INTO stamp VALUES ('new', 8)");
    db.close();
    expect(takeBack(file, 1)).toMatchObject({ back: 1, left: 1 });
    expect(column(file, "SELECT n FROM stamp WHERE crate_mark = 'new'")).toEqual([8]);
    expect(column(file, "SELECT mark FROM crate")).toContain("new");
  });
});

describe("what stops a posting", () => {
  const ready = (spec: PostingSpec) => {
    const job = jobOf(file, spec);
    return { job, tally: preview(file, job).tally };
  };
  it("is a control total that does not agree: nothing is written", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [["new", "north", "12.50", null, null]]);
    const before = everything(file);
    const controlled = (value: string) => ready(incoming({ controls: [{ step: 0, figure: "total", column: "fee", compare: "is", value }] }));
    const wrong = controlled("12.51");
    expect(() => post(file, wrong.job, { digest: wrong.tally.digest, again: false, entry })).toThrow(/control totals/);
    expect(everything(file)).toBe(before);
    const right = controlled("12.5");
    expect(post(file, right.job, { digest: right.tally.digest, again: false, entry }).counts.add).toBe(1);
  });
  it("is the very same rows where each is a new one, unless they are to be posted again", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [["p", null, "1.5", null, null]]);
    const loose = incoming({ target: "loose", same: [], present: "add", pairs: [field("mark"), field("fee")] });
    const first = ready(loose);
    expect(wouldDouble(first.tally)).toBeNull();
    const about = { ...entry, table: "loose" };
    post(file, first.job, { digest: first.tally.digest, again: false, entry: about });
    const second = ready(loose);
    expect(wouldDouble(second.tally)).toEqual({ number: 1, at: entry.at, reversedBy: null });
    expect(() => post(file, second.job, { digest: second.tally.digest, again: false, entry: about })).toThrow(/posted before/);
    expect(column(file, "SELECT COUNT(*) FROM loose")).toEqual([4]);
    // Other rows are other rows; and once the posting is reversed, its rows are new again.
    const db = new Database(file);
    db.exec("UPDATE incoming SET fee = '1.6'");
    db.close();
    expect(wouldDouble(ready(loose).tally)).toBeNull();
    const back = new Database(file);
    back.exec("UPDATE incoming SET fee = '1.5'");
    back.close();
    takeBack(file, 1);
    expect([wouldDouble(ready(loose).tally), ready(loose).tally.before]).toEqual([null, { number: 1, at: entry.at, reversedBy: 2 }]);
  });
});

describe("rows that exist already", () => {
  it("are changed in the columns said, and each column says in how many rows", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [
      ["a", "south", "99", "1/1/2026", null],
      ["c", "south", "7", "1/1/2026", null],
    ]);
    const pairs = (existing: "keep" | "fill") => incoming().pairs.flatMap((p) => (p.column === "note" ? [] : p.column === "fee" ? [{ ...p, existing }] : [p]));
    const changed = (existing: "keep" | "fill") => {
      const { tally, rows } = preview(file, jobOf(file, incoming({ action: "change", pairs: pairs(existing) })));
      return { fields: tally.fields, fees: rows.map((r) => [r.from?.[2], r.cells[2]]) };
    };
    expect(changed("keep").fields).toEqual([
      { column: "yard_id", rows: 2 },
      { column: "day", rows: 2 },
    ]);
    expect(changed("fill").fields).toEqual([
      { column: "yard_id", rows: 2 },
      { column: "day", rows: 2 },
      { column: "fee", rows: 1 },
    ]);
  });
});

describe("rows matched however they are written", () => {
  it("are found past case, accents, punctuation and the order of words, and refused where several are", () => {
    const script = `${SCRIPT} INSERT INTO crate (mark, note) VALUES ('Pell, Anna', 'one'), ('OÀT holm', 'two');
      INSERT INTO incoming (mark, note) VALUES ('anna  PELL', 'n1'), ('Oat-Holm', 'n2'), ('Anna Pell.', 'n3'), ('new one', 'n4'), ('Oat Holmes', 'n5')`;
    new Database(file).exec(script).close();
    const pairs = [field("mark"), field("note")];
    const outcomes = (more: Partial<PostingSpec>) => preview(file, jobOf(file, incoming({ pairs, ...more }))).rows.map((r) => r.outcome);
    expect(outcomes({ action: "change" })).toEqual(["unmatched", "unmatched", "unmatched", "unmatched", "unmatched"]);
    expect(outcomes({ action: "change", alike: true })).toEqual(["change", "change", "repeated", "unmatched", "unmatched"]);
    expect(outcomes({ alike: true })).toEqual(["differs", "differs", "repeated", "add", "add"]);
    new Database(file).exec("INSERT INTO crate (mark) VALUES ('holm; oat')").close();
    const { rows } = preview(file, jobOf(file, incoming({ pairs, alike: true, present: "change" })));
    expect([rows[1]?.outcome, rows[1]?.why]).toEqual(["refused", "several rows of crate match; match by more columns"]);
    const db = new Database(file);
    const { tally } = preview(file, jobOf(file, incoming({ pairs, action: "change", alike: true })));
    post(file, jobOf(file, incoming({ pairs, action: "change", alike: true })), { digest: tally.digest, again: false, entry });
    // What rows are matched by stays as it is written.
    expect(db.prepare("SELECT mark, note FROM crate WHERE mark LIKE '%Anna%'").raw().all()).toEqual([["Pell, Anna", "n1"]]);
    db.close();
  });
});

describe("values filled down", () => {
  it("are those of the row before, of files and of the table itself; what is refused gives its value on", () => {
    const script = `${SCRIPT} INSERT INTO incoming VALUES ('e', 'north', '1.5', NULL, 'f'), ('f', NULL, ' 2', '2.1.2026', ''), ('g', '', NULL, '', 'g'), (NULL, 'nowhere', NULL, NULL, NULL), ('h', NULL, '4', NULL, NULL)`;
    new Database(file).exec(script).close();
    const pairs = [
      field("mark"),
      field("yard_id", "yard", { down: true, found: { link: "crate.yard_id", by: "code" } }),
      field("fee", "fee", { down: true }),
      field("note"),
    ];
    const job = jobOf(file, incoming({ pairs }));
    const { tally } = preview(file, job);
    expect(tally.outcomes).toMatchObject({ add: 3, refused: 2 });
    post(file, job, { digest: tally.digest, again: false, entry });
    const all = (sql: string) => allRows(file, sql);
    expect(all("SELECT mark, yard_id, fee, note FROM crate WHERE mark IN ('e', 'f', 'g', 'h') ORDER BY mark")).toEqual([
      ["e", 1, 150, "f"],
      ["f", 1, 200, ""],
      ["g", 1, 200, "g"],
    ]);
    const crate = schemaOf(file).tables.find((t) => t.name === "crate") as Table;
    const tidied = jobOf(file, tidyPosting({ kind: "down" }, crate, crate.columns.find((c) => c.name === "note") as Table["columns"][number]));
    post(file, tidied, { digest: preview(file, tidied).tally.digest, again: false, entry });
    expect(all("SELECT note FROM crate ORDER BY id")).toEqual([["x"], ["x"], ["é"], ["é"], ["f"], ["f"], ["g"]]);
  });
});

describe("the journal", () => {
  const post1 = (by: string, at: string, spec: PostingSpec, name: string) => {
    const job = jobOf(file, spec);
    return post(file, job, { digest: preview(file, job).tally.digest, again: true, entry: { ...entry, by, at, name, table: spec.target } });
  };
  const question = { find: EVERY_ENTRY, zone: "Europe/Paris", hidden: [] as string[], before: null, limit: 10 };
  const found = (find: Partial<JournalFind>, more: Partial<JournalQuestion> = {}) => {
    const db = new Database(file, { readonly: true });
    const page = findEntries(db, { ...question, find: { ...EVERY_ENTRY, ...find }, ...more });
    db.close();
    return [page.entries.map((e) => e.number), page.more];
  };
  beforeEach(() => {
    makeDatabase(file, SCRIPT);
    fill(file, [["new", "north", "12.50", "3/11/2026", 'a"%']]);
    post1("Ana", "2026-11-20T22:30:00Z", incoming({ steps: [stampStep("add")] }), "crates with stamps");
    post1(
      "Bo",
      "2026-11-20T23:30:00Z",
      incoming({ action: "move", source: { kind: "table", table: "parked" }, same: [], present: "add", pairs: [field("mark", "note")] }),
      "100% moved",
    );
    post1("Bo", "2026-11-22T08:00:00Z", incoming({ target: "loose", same: [], present: "add", pairs: [field("mark")] }), "loose ones");
  });
  it("is searched by person, table, day of the workspace, number, name and value", () => {
    expect(found({})).toEqual([[3, 2, 1], false]);
    expect([found({ by: "Bo" })[0], found({ by: "B" })[0]]).toEqual([[3, 2], []]);
    expect([found({ table: "stamp" })[0], found({ table: "parked" })[0], found({ table: "crate" })[0]]).toEqual([[1], [2], [2, 1]]);
    // An evening in Greenwich is the next day in Paris.
    expect([found({ from: "2026-11-21" })[0], found({ to: "2026-11-20" })[0], found({ from: "2026-11-21", to: "2026-11-21" })[0]]).toEqual([[3, 2], [1], [2]]);
    expect([found({ text: "#2" })[0], found({ text: "STAMPS" })[0], found({ text: "0% m" })[0], found({ text: "0_ m" })[0]]).toEqual([[2], [1], [2], []]);
    expect([found({ text: 'a"%' })[0], found({ text: 'a"_' })[0], found({ text: "north" })[0]]).toEqual([[2, 1], [], [2]]);
  });
  it("tells nothing of tables that are hidden, not even beside others; and comes a page at a time", () => {
    expect([found({}, { hidden: ["stamp"] })[0], found({}, { hidden: ["crate"] })[0]]).toEqual([[3, 2], [3]]);
    expect([found({}, { limit: 2 }), found({}, { limit: 2, before: 2 }), found({}, { limit: 3 })]).toEqual([
      [[3, 2], true],
      [[1], false],
      [[3, 2, 1], false],
    ]);
    const db = new Database(file, { readonly: true });
    expect(peopleIn(db)).toEqual(["Ana", "Bo"]);
    db.close();
  });
  it("is written out whole: a line for each entry, or for each value that was changed", () => {
    const lines = (what: JournalExport, find: Partial<JournalFind> = {}) => {
      const out = join(place.folder, "lines.sqlite");
      journalTable(file, schemaOf(file), what, { ...question, find: { ...EVERY_ENTRY, ...find } }, out);
      const db = new Database(out, { readonly: true });
      const rows = db.prepare("SELECT * FROM rows").raw().all();
      db.close();
      return rows;
    };
    expect(lines("entries").map((l) => [(l as unknown[])[0], (l as unknown[])[6], ...(l as unknown[]).slice(7, 10)])).toEqual([
      [3, "loose", 1, 0, 0],
      [2, "crate, parked", 1, 0, 1],
      [1, "crate, stamp", 2, 0, 0],
    ]);
    expect(lines("changes", { by: "Ana" }).map((l) => (l as unknown[]).slice(4))).toEqual([
      ["crate", "add", "5", "id", null, "5"],
      ["crate", "add", "5", "mark", null, "new"],
      ["crate", "add", "5", "yard_id", null, "1"],
      ["crate", "add", "5", "fee", null, "12.50"],
      ["crate", "add", "5", "day", null, "2026-11-03"],
      ["crate", "add", "5", "note", null, 'a"%'],
      ["stamp", "add", "new, 7", "crate_mark", null, "new"],
      ["stamp", "add", "new, 7", "n", null, "7"],
    ]);
  });
});

describe("a posting that is reversed after later changes", () => {
  const later = (sql: string) => {
    const db = new Database(file);
    db.exec(sql);
    db.close();
  };
  const marks = (what: string) => column(file, `SELECT ${what} FROM crate WHERE mark IN ('a', 'b') ORDER BY mark`);
  beforeEach(() => {
    makeDatabase(file, SCRIPT);
    fill(file, [
      ["a", "south", "7", null, null],
      ["b", "north", "8", null, null],
    ]);
    const job = jobOf(file, incoming({ action: "change", pairs: [field("mark"), field("fee")] }));
    post(file, job, { digest: preview(file, job).tally.digest, again: false, entry });
    expect(marks("fee")).toEqual([700, 800]);
  });
  it("gives back the values it changed, and keeps what others changed in the same rows; and so does the reversal of that", () => {
    later("UPDATE crate SET note = 'mine', yard_id = 3 WHERE mark = 'a'");
    const seen = previewReversal(file, schemaOf(file), 1, false, join(place.folder, "seen.sqlite"));
    expect(seen).toMatchObject({ back: 2, left: 0, kept: 1 });
    const { number } = takeBack(file, 1);
    expect([marks("fee"), marks("note"), marks("yard_id")]).toEqual([
      [1250, 9007199254740992],
      ["mine", null],
      [3, 2],
    ]);
    takeBack(file, number);
    expect([marks("fee"), marks("note")]).toEqual([
      [700, 800],
      ["mine", null],
    ]);
  });
  it("leaves a value that was changed again, unless it is to be given back; the rest of the row stays in any case", () => {
    later("UPDATE crate SET fee = 900, note = 'mine' WHERE mark = 'a'");
    expect(takeBack(file, 1)).toMatchObject({ back: 1, left: 1 });
    expect([marks("fee")[0], marks("note")[0]]).toEqual([900, "mine"]);
    const { number } = { number: 2 };
    takeBack(file, number);
    expect(takeBack(file, 1, true)).toMatchObject({ back: 2, left: 0 });
    expect([marks("fee")[0], marks("note")[0]]).toEqual([1250, "mine"]);
  });
});

describe("what is kept of a posting's rows while it is looked at", () => {
  it("is nothing where they could not be worked out to the end", () => {
    makeDatabase(file, SCRIPT);
    fill(file, [["new", "north", "1", null, null]]);
    const job = jobOf(file, incoming());
    const out = join(place.folder, "half.sqlite");
    const gone = join(place.folder, "gone.sqlite");
    expect(() => previewPosting(gone, job, out)).toThrow();
    const broken = sqliteReading(new Database(":memory:"));
    expect(() => stageQuery(broken, (job.steps[0] as PostingJob["steps"][number]).source.rows, join(place.folder, "staged.sqlite"))).toThrow();
    expect(existsSync(join(place.folder, "staged.sqlite"))).toBe(false);
    expect(existsSync(out)).toBe(false);
    expect(() => previewReversal(file, schemaOf(file), 99, false, out)).toThrow();
    expect(existsSync(out)).toBe(false);
  });
});

describe("a posting that is killed", () => {
  /** How often; more by hand. */
  const KILLS = Number(process.env.KILLS ?? 50);
  it(`is whole or absent, and the journal agrees: ${KILLS} times at random moments`, async () => {
    const start = join(place.folder, "start.sqlite");
    makeDatabase(start, SCRIPT);
    const rows = Array.from({ length: 3000 }, (_, i) => [`m${i}`, "north", String(i), null, null]);
    fill(start, rows);
    copyFileSync(start, file);
    const job = jobOf(file, incoming());
    const { digest } = preview(file, job).tally;
    /** Posts in a process of its own and kills it after a while; without one, lets it finish and tells how long it took. */
    const run = (killAfterMs: number | null) =>
      new Promise<number>((done) => {
        const child = fork(resolve("dist/engine.mjs"), [], { serialization: "advanced", stdio: ["ignore", "ignore", "inherit", "ipc"] });
        let since = 0;
        child.on("message", (reply: object) => {
          if ("begun" in reply) return;
          if (!("ready" in reply)) return child.kill("SIGKILL");
          since = performance.now();
          child.send({ kind: "post", database: file, posting: job, digest, again: false, entry });
          if (killAfterMs !== null) setTimeout(() => child.kill("SIGKILL"), killAfterMs);
        });
        child.on("exit", () => done(performance.now() - since));
      });
    let whole = await run(null);
    const moments = fc.sample(fc.double({ min: 0, max: 1.3, noNaN: true }), { numRuns: KILLS, seed: SEED });
    let made = 0;
    for (const moment of moments) {
      copyFileSync(start, file);
      rmSync(`${file}-journal`, { force: true });
      const took = await run(moment * whole);
      const db = new Database(file);
      const count = Number(db.prepare("SELECT COUNT(*) FROM crate").pluck().get());
      const entries = readJournal(db);
      db.close();
      expect([4, 3004]).toContain(count);
      expect(entries.map((e) => e.counts.add)).toEqual(count === 4 ? [] : [3000]);
      if (count !== 4) made++;
      // How long a posting takes is another thing while the machine does something else: it is learned on the way.
      if (count !== 4) whole = Math.min(whole, took);
      else if (moment > 1) whole *= 1.3;
    }
    expect(made, "some were killed after the commit, some before").toBeGreaterThan(0);
    expect(made).toBeLessThan(KILLS);
  });
});
