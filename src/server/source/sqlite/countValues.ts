import { quoted } from "@/core/query/dialect/dialect";
import { IS_PLAIN_TIMESTAMP, IS_TIMESTAMP } from "@/core/query/dialect/sqlite";
import type { ValueKind } from "@/core/types/valueType";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { freeRowNumber } from "./rowNumber";

/*
 * What the values of a table's columns are, each looked at once. A column mostly goes on as it begins: what its first rows
 * are is asked of the others with few tests, and all of them are made again where some rows are something else.
 */

/**
 * How many values of a column are there, and are what. What cannot tell anything of its type any more is not counted on: dates and
 * timestamps in a column of texts some of which are neither, and truths in one that is not said to have any.
 */
export type Counts = Record<(typeof TESTS)[number], number>;

const TESTS = ["filled", "integers", "reals", "texts", "dates", "timestamps", "plainTimestamps", "truths", "long"] as const;
type Test = (typeof TESTS)[number];

/** A column as it is declared, and the type that a person says it has. */
type Said = { name: string; type: string; set?: ValueKind | undefined };

/** The largest number of fifteen digits. */
const LONG = 999_999_999_999_999;

/** SQL that counts the values of a column that pass a test. */
function counting(test: Test, column: string): string {
  const c = quoted(column);
  const count = (condition: string) => `COUNT(CASE WHEN ${condition} THEN 1 END)`;
  const conditions: Record<Exclude<Test, "filled">, string> = {
    integers: `typeof(${c}) = 'integer'`,
    reals: `typeof(${c}) = 'real'`,
    texts: `typeof(${c}) = 'text'`,
    dates: `typeof(${c}) = 'text' AND length(${c}) = 10 AND date(${c}, '+0 days') = ${c}`,
    timestamps: `typeof(${c}) = 'text' AND ${IS_TIMESTAMP(c)}`,
    plainTimestamps: `typeof(${c}) = 'text' AND ${IS_PLAIN_TIMESTAMP(c)}`,
    truths: `${c} IN (0, 1)`,
    long: `typeof(${c}) = 'integer' AND ${c} NOT BETWEEN -${LONG} AND ${LONG}`,
  };
  return test === "filled" ? `COUNT(${c})` : count(conditions[test]);
}

/** What all values of some rows were: `of` counts those that are so again, `also` what is counted besides. */
type Guess = { of: Exclude<Test, "filled"> | null; also: Test[] };

const NO_COUNTS = (): Counts => ({ filled: 0, integers: 0, reals: 0, texts: 0, dates: 0, timestamps: 0, plainTimestamps: 0, truths: 0, long: 0 });

/** What the next rows are asked for, after what those so far were; null where all is asked. */
function guessOf({ type, set }: Said, seen: Counts): Guess | null {
  const truths: Test[] = /BOOL/i.test(type) || set === "yesno" ? ["truths"] : [];
  const dated = /^\s*DATE|TIMESTAMP|DATETIME/i.test(type) || set === "date" || set === "timestamp";
  const { filled } = seen;
  if (filled === 0) return { of: null, also: [] };
  if (seen.integers === filled) return { of: "integers", also: ["long", ...truths] };
  if (seen.reals === filled) return { of: "reals", also: truths };
  if (seen.dates === filled) return { of: "dates", also: [] };
  if (seen.timestamps === filled && seen.plainTimestamps === filled) return { of: "plainTimestamps", also: ["timestamps"] };
  const neither = seen.dates < filled && seen.timestamps < filled && !dated;
  return seen.texts === filled && neither && truths.length === 0 ? { of: "texts", also: [] } : null;
}

const testsOf = (guess: Guess | null): readonly Test[] => (guess === null ? TESTS : ["filled", ...(guess.of ? [guess.of] : []), ...guess.also]);

/** What was counted by a guess, as all tests would have it; null where some value is something else. */
function settled(guess: Guess | null, counted: Counts): Counts | null {
  if (guess === null) return counted;
  if (counted.filled !== (guess.of ? counted[guess.of] : 0)) return null;
  const isText = guess.of === "dates" || guess.of === "plainTimestamps";
  return isText ? { ...counted, texts: counted.filled } : counted;
}

/** SQLite takes at most 2,000 result columns; a wide table is read in several passes. */
const COLUMNS_AT_ONCE = 200;

/** The numbers of a table's rows: from one to another. */
export type Span = { by: string; first: number; last: number };
/** How a table is looked through: in slices of its rows' numbers, where they have any, each of which is told. */
type Looking = { span: Span | null; looked: (rows: number) => void; slices?: Slices | undefined };

/** `first`: numbers of rows that tell how the others are looked at; `each`: that are looked at in one go. */
export type Slices = { first: number; each: number };
const SLICES: Slices = { first: 5_000, each: 100_000 };
/** Of numbers that lie far apart, so many slices at the most. */
const MOST_SLICES = 200;

/** null where rows have no numbers, or a table cannot be read. */
export function spanOf(db: FileDatabase, table: string): Span | null {
  try {
    const by = freeRowNumber(db.prepare("SELECT name FROM pragma_table_xinfo(?)").pluck().all(table) as string[]);
    if (by === null) return null;
    const ends = (order: string) =>
      db
        .prepare(`SELECT ${by} FROM ${quoted(table)} ORDER BY ${by} ${order} LIMIT 1`)
        .pluck()
        .get() as number | undefined;
    return { by, first: ends("ASC") ?? 0, last: ends("DESC") ?? -1 };
  } catch {
    return null;
  }
}

/** Conditions that part a table's rows; one that all meet where there is no need. */
function slicesOf(span: Span | null, { first, each }: Slices): { where: string; rows: number }[] {
  if (!span || span.last - span.first < 2 * first) return [{ where: "", rows: span ? span.last - span.first + 1 : 0 }];
  const size = Math.max(each, Math.ceil((span.last - span.first + 1) / MOST_SLICES));
  const slices: { where: string; rows: number }[] = [];
  for (let from = span.first; from <= span.last; ) {
    const to = Math.min(from + (from === span.first ? first : size) - 1, span.last);
    slices.push({ where: ` WHERE ${span.by} BETWEEN ${from} AND ${to}`, rows: to - from + 1 });
    from = to + 1;
  }
  return slices;
}

/** Counts what the values of a table's columns are, and its rows. */
export function countValues(db: FileDatabase, table: string, columns: Said[], { span, looked, slices = SLICES }: Looking): { rows: number; counts: Counts[] } {
  const counts: Counts[] = [];
  let rows = 0;
  for (let at = 0; at < Math.max(1, columns.length); at += COLUMNS_AT_ONCE) {
    const part = columns.slice(at, at + COLUMNS_AT_ONCE);
    const sums = part.map(NO_COUNTS);
    let guesses: (Guess | null)[] = part.map(() => null);
    let counted = 0;
    for (const { where, rows: told } of slicesOf(span, slices)) {
      const asked = counter(db, `${quoted(table)}${where}`);
      const first = asked(part, guesses);
      const kept = first.counts.map((c, i) => settled(guesses[i] ?? null, c));
      const again = part.flatMap((column, i) => (kept[i] === null ? [{ column, i }] : []));
      if (again.length > 0) {
        const whole = asked(
          again.map((a) => a.column),
          again.map(() => null),
        );
        again.forEach(({ i }, n) => {
          kept[i] = whole.counts[n] as Counts;
        });
      }
      counted += first.rows;
      kept.forEach((c, i) => {
        for (const test of TESTS) (sums[i] as Counts)[test] += (c as Counts)[test];
      });
      guesses = part.map((column, i) => guessOf(column, sums[i] as Counts));
      if (at === 0) looked(told);
    }
    rows = counted;
    counts.push(...sums);
  }
  return { rows, counts };
}

/**
 * Counts what some rows are, of a table that is too large to be looked through at once: a few hundred at each of several places
 * that lie evenly apart by the rows' numbers, its end among them.
 * @returns how many rows the table has, reckoned by how close numbers of rows lie
 */
export function sampleValues(db: FileDatabase, table: string, columns: Said[], span: Span): { rows: number; counts: Counts[] } {
  const { by, first, last } = span;
  const places = Array.from({ length: SAMPLES - 1 }, (_, i) => first + Math.floor(((last - first) * i) / (SAMPLES - 1)));
  const parts = [...places.map((from) => `WHERE ${by} >= ${from} ORDER BY ${by}`), `WHERE ${by} <= ${last} ORDER BY ${by} DESC`];
  const { counts } = countSome(
    db,
    columns,
    parts.map((part) => `(SELECT * FROM ${quoted(table)} ${part} LIMIT ${SAMPLED})`),
  );
  return { rows: reckoned(db, table, span, parts), counts };
}

/** Counts what the first rows are, of a view or of a table whose rows have no numbers, and how many these were. */
export const firstValues = (db: FileDatabase, table: string, columns: Said[], most: number): { rows: number; counts: Counts[] } =>
  countSome(db, columns, [`(SELECT * FROM ${quoted(table)} LIMIT ${Math.trunc(most)})`]);

/** Asks all of some parts of a table what they are. */
function countSome(db: FileDatabase, columns: Said[], parts: string[]): { rows: number; counts: Counts[] } {
  const counts = columns.map(NO_COUNTS);
  let rows = 0;
  for (let at = 0; at < Math.max(1, columns.length); at += COLUMNS_AT_ONCE) {
    const some = columns.slice(at, at + COLUMNS_AT_ONCE);
    const none = some.map(() => null);
    for (const part of parts) {
      const found = counter(db, part)(some, none);
      if (at === 0) rows += found.rows;
      found.counts.forEach((c, i) => {
        for (const test of TESTS) (counts[at + i] as Counts)[test] += c[test];
      });
    }
  }
  return { rows, counts };
}

const SAMPLES = 10;
/** How many rows are looked at in one place. */
const SAMPLED = 500;

/** How many rows lie between the first number and the last, if they lie as close everywhere as in some places. */
function reckoned(db: FileDatabase, table: string, { by, first, last }: Span, parts: string[]): number {
  let [rows, numbers] = [0, 0];
  for (const part of parts) {
    const [n, least, most] = db
      .prepare(`SELECT COUNT(*), MIN(n), MAX(n) FROM (SELECT ${by} AS n FROM ${quoted(table)} ${part} LIMIT ${SAMPLED})`)
      .raw()
      .get() as [number, number, number];
    rows += n - 1;
    numbers += most - least;
  }
  return Math.round(1 + (last - first) * (numbers > 0 ? rows / numbers : 0));
}

/** How many rows a table or view has, counted up to a bound. */
export const rowsUpTo = (db: FileDatabase, table: string, most: number): number =>
  db
    .prepare(`SELECT COUNT(*) FROM (SELECT 1 FROM ${quoted(table)} LIMIT ${Math.trunc(most)})`)
    .pluck()
    .get() as number;

/** Asks some rows what the values of columns are. */
const counter =
  (db: FileDatabase, from: string) =>
  (columns: Said[], guesses: (Guess | null)[]): { rows: number; counts: Counts[] } => {
    const tests = columns.map((_, i) => testsOf(guesses[i] ?? null));
    const select = columns.flatMap(({ name }, i) => (tests[i] ?? []).map((test) => counting(test, name)));
    const [rows = 0, ...read] = db
      .prepare(`SELECT ${["COUNT(*)", ...select].join(", ")} FROM ${from}`)
      .raw()
      .get() as number[];
    let place = 0;
    return {
      rows,
      counts: tests.map((of) => {
        const made = NO_COUNTS();
        for (const test of of) made[test] = read[place++] ?? 0;
        return made;
      }),
    };
  };
