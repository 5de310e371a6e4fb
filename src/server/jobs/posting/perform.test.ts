import Database from "better-sqlite3";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { OutcomeRow } from "@/core/posting/outcome";
import { type PostingPlan, resolvePosting } from "@/core/posting/plan";
import type { PostingSpec } from "@/core/posting/spec";
import { type Column, findTable, type Table } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { type Cell, date } from "@/core/types/valueType";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { RUNS, SEED } from "../../../../test/support/everywhere";
import type { Change } from "./journal";
import { performSteps } from "./perform";

/*
 * Many rows are looked up and added by one statement. What that comes to is held against the same rows posted one by one,
 * each in a posting of its own, which looks up and writes by itself.
 */

const SOURCE = "CREATE TABLE source (mark TEXT, seal TEXT, fee INTEGER, yard TEXT);";
const YARDS = "CREATE TABLE yard (id INTEGER PRIMARY KEY, code TEXT UNIQUE); INSERT INTO yard VALUES (1, 'north'), (2, 'south');";
/** Tables that tell rows apart in different ways: what is the same to one is not to another. */
const TARGETS = {
  "a unique mark":
    "CREATE TABLE crate (id INTEGER PRIMARY KEY, mark TEXT NOT NULL UNIQUE, seal TEXT UNIQUE, fee INTEGER CHECK (fee >= 0), yard TEXT REFERENCES yard(code), note TEXT DEFAULT 'none')",
  "a unique mark, ignoring case":
    "CREATE TABLE crate (id INTEGER PRIMARY KEY, mark TEXT NOT NULL COLLATE NOCASE UNIQUE, seal TEXT UNIQUE, fee INTEGER CHECK (fee >= 0), yard TEXT REFERENCES yard(code), note TEXT)",
  "a mark compared ignoring case, unique by its letters":
    "CREATE TABLE crate (id INTEGER PRIMARY KEY, mark TEXT NOT NULL COLLATE NOCASE, seal TEXT UNIQUE, fee INTEGER CHECK (fee >= 0), yard TEXT REFERENCES yard(code)); CREATE UNIQUE INDEX by_letters ON crate (mark COLLATE BINARY); CREATE INDEX by_mark ON crate (mark)",
  "a mark that is indexed only":
    "CREATE TABLE crate (id INTEGER PRIMARY KEY, mark TEXT COLLATE NOCASE, seal TEXT UNIQUE, fee INTEGER CHECK (fee >= 0), yard TEXT REFERENCES yard(code)); CREATE INDEX by_mark ON crate (mark)",
  "no index": "CREATE TABLE crate (id INTEGER PRIMARY KEY, mark TEXT, seal TEXT UNIQUE, fee INTEGER CHECK (fee >= 0), yard TEXT REFERENCES yard(code))",
  "a unique part":
    "CREATE TABLE crate (mark TEXT PRIMARY KEY COLLATE NOCASE, seal TEXT, fee INTEGER CHECK (fee >= 0), yard TEXT REFERENCES yard(code)) WITHOUT ROWID",
  "rows that lead to each other":
    "CREATE TABLE crate (id INTEGER PRIMARY KEY, mark TEXT NOT NULL UNIQUE, seal TEXT REFERENCES crate(mark), fee INTEGER CHECK (fee >= 0), yard TEXT REFERENCES yard(code))",
};

type Posting = Pick<PostingSpec, "action" | "present"> & { same: string[] };

function begun(target: string, posting: Posting): { db: Database.Database; plan: PostingPlan } {
  const db = new Database(":memory:");
  db.exec(`${SOURCE} ${YARDS} ${target}; INSERT INTO crate (mark, seal, fee) VALUES ('M1', NULL, 1), ('m7', NULL, 7), ('m20', NULL, 20)`);
  const schema = inspectDatabase(db, []);
  const pairs = ["mark", "seal", "fee", "yard"].map((column) => ({ column, value: { kind: "field" as const, name: column } }));
  const spec: PostingSpec = { version: 1, source: { kind: "table", table: "source" }, target: "crate", breaking: "refuse", pairs, ...posting };
  const made = resolvePosting(spec, schema, [{ table: findTable(schema, "source") as Table, origin: null }], usualDay("2026-12-02"));
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return { db, plan: made.value[0]?.posting as PostingPlan };
}

type Came = { outcomes: Omit<OutcomeRow, "n">[]; changes: Change[]; rows: unknown[] };

/** @param journaled whether changes are journaled, as in a posting; else it is only looked at */
function performed(target: string, posting: Posting, postings: Cell[][][], journaled: boolean): Came {
  const { db, plan } = begun(target, posting);
  const [outcomes, changes]: [OutcomeRow[], Change[]] = [[], []];
  const take = (row: OutcomeRow, line: string) => {
    expect(JSON.parse(line)).toEqual(row);
    outcomes.push(row);
  };
  for (const rows of postings) performSteps(db, [{ plan, rows }], () => take, journaled ? () => (change) => void changes.push(change) : undefined);
  const rows = db.prepare("SELECT * FROM crate ORDER BY 1").raw().all();
  db.close();
  return { outcomes: outcomes.map(({ n: _, ...row }) => row), changes, rows };
}

/** Rows whose marks are written each in one way only: a mark that comes twice is repeated, which one by one it is not. */
const arrivals = fc
  .tuple(
    fc.uniqueArray(fc.tuple(fc.constantFrom("m", "M"), fc.integer({ min: 1, max: 150 })), { minLength: 30, maxLength: 140, selector: (m) => m.join("") }),
    fc.infiniteStream(fc.double({ min: 0, max: 1, noNaN: true })),
  )
  .map(([marks, stream]) =>
    marks.map(([letter, number]): Cell[] => {
      const [seal, fee, yard] = [stream.next().value, stream.next().value, stream.next().value] as number[];
      const sealed = (seal as number) < 0.04 ? `m${Math.round((seal as number) * 1000)}` : null;
      return [
        `${letter}${number}`,
        sealed,
        (fee as number) < 0.02 ? -1 : number,
        (yard as number) < 0.02 ? "nowhere" : (yard as number) < 0.5 ? "north" : null,
      ];
    }),
  );

/** As many rows as are added at once, and more, with some among them. */
const among = (rows: Cell[][], before = 0): Cell[][] => {
  const others = Array.from({ length: 60 }, (_, i): Cell[] => [`m${30 + i}`, null, i, null]);
  return [...others.slice(0, before), ...rows, ...others.slice(before)];
};
const EXAMPLES = [
  // The same mark to some tables, whose second row is refused for another reason.
  among([
    ["m5", null, 5, null],
    ["M5", null, 5, "nowhere"],
  ]),
  // A row that leads to the one before it, where rows lead to each other.
  among([
    ["m5", null, 5, null],
    ["m6", "m5", 6, null],
  ]),
  // A row that is there is to have the seal that one before it is added with.
  among([
    ["m5", "s", 5, null],
    ["m7", "s", 7, null],
  ]),
  // Rows that are there, found among the later ones.
  among(
    [
      ["m20", null, 1, null],
      ["m7", null, 1, null],
    ],
    40,
  ),
];

describe.each(Object.entries(TARGETS))("rows posted together into a table with %s", (_, target) => {
  it.each([
    { action: "add", present: "leave", same: ["mark"] },
    { action: "add", present: "change", same: ["mark"] },
    { action: "add", present: "add", same: ["mark"] },
    { action: "add", present: "add", same: [] },
    { action: "change", present: "leave", same: ["mark"] },
    { action: "remove", present: "leave", same: ["mark"] },
    { action: "add", present: "change", same: ["mark", "fee"] },
  ] as Posting[])("come to what they come to one by one: $action, $present by $same", (posting) => {
    fc.assert(
      fc.property(arrivals, fc.boolean(), (rows, journaled) => {
        const alone = performed(
          target,
          posting,
          rows.map((row) => [row]),
          journaled,
        );
        expect(performed(target, posting, [rows], journaled)).toEqual(alone);
      }),
      { numRuns: RUNS / 250, seed: SEED, examples: EXAMPLES.map((rows) => [rows, true]) },
    );
  });
});

describe("what a posting comes to", () => {
  const target = TARGETS["a unique mark"];
  const rows: Cell[][] = [
    ["m1", null, 4, null],
    ["m8", "1/2/2026", 8, "north"],
  ];
  const digestOf = (posting: Posting, came: Cell[][], change: (plan: PostingPlan) => PostingPlan = (plan) => plan) => {
    const { db, plan } = begun(target, posting);
    const { digest } = performSteps(db, [{ plan: change(plan), rows: came }], null);
    db.close();
    return digest;
  };
  const adding: Posting = { action: "add", present: "leave", same: ["mark"] };
  const before = digestOf(adding, rows);
  const otherPair = (more: Partial<PostingPlan["pairs"][number]>) => (plan: PostingPlan) => ({
    ...plan,
    pairs: plan.pairs.map((p, i) => (i === 1 ? { ...p, ...more } : p)),
  });
  const dated = (dates: "dmy" | "mdy") => otherPair({ column: { ...(begun(target, adding).plan.pairs[1]?.column as Column), type: date }, dates });

  it("stands for the very same again", () => {
    expect(digestOf(adding, rows)).toBe(before);
    expect(digestOf(adding, rows, dated("dmy"))).toBe(digestOf(adding, rows, dated("dmy")));
  });
  it.each([
    ["of another value", () => digestOf(adding, [rows[0] as Cell[], ["m8", "1/2/2026", 9, "north"]])],
    ["of the same rows, left otherwise", () => digestOf({ ...adding, present: "change" }, rows)],
    [
      "of the same values in other columns",
      () => digestOf(adding, rows, (plan) => ({ ...plan, pairs: plan.pairs.map((p, i) => (i === 1 ? { ...p, column: { ...p.column, name: "note" } } : p)) })),
    ],
    ["of rows fewer", () => digestOf(adding, rows.slice(0, 1))],
    ["of rows in another order", () => digestOf(adding, [...rows].reverse())],
  ])("is told from one %s", (_, other) => expect(other()).not.toBe(before));
  it("is told from one that reads the same dates otherwise", () => expect(digestOf(adding, rows, dated("dmy"))).not.toBe(digestOf(adding, rows, dated("mdy"))));
});
