import { quoted } from "@/core/query/dialect/dialect";
import { looksLikeReference, nameLikeness } from "@/core/schema/likeness";
import type { LinkSpec } from "@/core/schema/linkSpec";
import { type Column, humanise, MIRRORED, plural, type Schema, storedColumns, type Table } from "@/core/schema/schema";
import { comparedAlike } from "@/core/types/storage";
import { scaleOf } from "@/core/types/valueType";
import { type Connection, tableSql } from "@/server/source/connection";

/** A link that the data speaks for, with its figures. */
export type LinkSuggestion = {
  spec: LinkSpec;
  /** Different values of the near column, and how many of them are found on the far side. */
  values: number;
  found: number;
  /** How many more would be found but for white space around them and capitals. */
  alike: number;
  /** Different values of the far column, and how many of them are used on the near side. */
  farValues: number;
  used: number;
  /** Whether the far column tells rows apart. */
  unique: boolean;
  likeness: number;
  score: number;
};

/** What a link would find: rows of its first table by how many rows of the second they lead to, and the other way. */
export type LinkEvidence = { a: Matches; b: Matches; sampled: boolean };
/** `missed` are the first values that find none; `others` whether there are more. */
export type Matches = { rows: number; found: number; missing: number; twice: number; missed: string[]; others: boolean };

/** Values of a near column that are looked up to see whether it is worth counting all. */
const SAMPLE = 2_000;
/** Far columns with more different values than this are passed over; no key of a lookup table has that many. */
const MOST_VALUES = 2_000_000;
const LEAST_SHARE = 0.6;
/** What values that are found speak for, whatever they are called: few texts are among others by chance. */
const TEXTS = 0.6;
const NUMBERS = 0.4;
/** What a value counts that is found only but for white space and capitals. */
const ALIKE = 0.9;

type Side = { table: Table; column: Column; distinct: number };

/**
 * Links between tables that the values speak for, the best first: single columns of one type, the far one telling rows
 * apart. Ranked by how many values are found, how much of the far side is used, and the likeness of names; texts that are found speak for more
 * than numbers, which are among those of any numbered key.
 * @param only the table whose links are looked for; all tables where it is null
 */
export function suggestLinks(db: Connection, schema: Schema, only: string | null): LinkSuggestion[] {
  // A column that leads to one row already needs no other place to lead to.
  const leading = new Set(
    schema.links.flatMap((l) => [
      ...(l.b.leadsTo === "one" ? [nameOf(l.a.table, l.a.columns)] : []),
      ...(l.a.leadsTo === "one" ? [nameOf(l.b.table, l.b.columns)] : []),
    ]),
  );
  const sides = schema.tables
    .filter((t) => !t.view && t.rows > 0)
    .flatMap((table) =>
      storedColumns(table).flatMap((column) =>
        ["whole", "text", "date"].includes(column.type.kind) ? [{ table, column, distinct: distinctOf(db, table, column) }] : [],
      ),
    );
  const fars = sides.filter((s) => s.distinct > 1 && s.distinct <= MOST_VALUES && isUniqueIn(db, s));
  const found: LinkSuggestion[] = [];
  for (const far of fars) {
    const known = knownOf(valuesOf(db, far, null).map(String), far);
    for (const near of sides) {
      if (near === far || near.distinct === 0 || !sameType(near.column, far.column)) continue;
      if (only !== null && near.table.name !== only && far.table.name !== only) continue;
      if (near.table === far.table && near.column === far.column) continue;
      if (leading.has(nameOf(near.table.name, [near.column.name]))) continue;
      const likeness = nameLikeness(near.column.name, far.table.name, far.column.name);
      const numbered = far.column.type.kind === "whole";
      // Small whole numbers are found among any numbered key: a name must speak for the link, or at least for a reference.
      if (numbered && likeness === 0 && !looksLikeReference(near.column.name)) continue;
      if (isUniqueKey(near) && near.table !== far.table && likeness < 0.7) continue;
      const sample = valuesOf(db, near, SAMPLE);
      const share = sample.filter((v) => known.exact.has(String(v)) || known.folded.has(folded(v))).length / sample.length;
      if (share < LEAST_SHARE) continue;
      found.push(counted(db, near, far, known, likeness));
    }
  }
  return found.filter((s) => s.score >= 0.4).sort((a, b) => b.score - a.score);
}

/** The values of a far column, and how they are written but for white space around them and capitals. */
type Known = { exact: Set<string>; folded: Set<string> };
const folded = (value: unknown): string => String(value).trim().toLowerCase();
const knownOf = (values: string[], { column }: Side): Known => ({
  exact: new Set(values),
  folded: new Set(column.type.kind === "text" ? values.map(folded) : []),
});

const nameOf = (table: string, columns: string[]): string => JSON.stringify([table, columns]);

const sameType = (a: Column, b: Column): boolean => a.type.kind === b.type.kind && scaleOf(a.type) === scaleOf(b.type) && comparedAlike(a.storage, b.storage);

const isUniqueKey = ({ table, column }: Side): boolean => table.key.length === 1 && table.key[0] === column.name;

function distinctOf(db: Connection, table: Table, column: Column): number {
  return Number(
    db
      .prepare(`SELECT COUNT(DISTINCT ${quoted(column.name)}) FROM ${tableSql(db, table.name)}`)
      .pluck()
      .get(),
  );
}

function isUniqueIn(db: Connection, side: Side): boolean {
  if (isUniqueKey(side)) return true;
  const filled = Number(
    db
      .prepare(`SELECT COUNT(${quoted(side.column.name)}) FROM ${tableSql(db, side.table.name)}`)
      .pluck()
      .get(),
  );
  return filled === side.distinct && side.column.type.kind !== "date";
}

function valuesOf(db: Connection, { table, column }: Side, limit: number | null): unknown[] {
  const c = quoted(column.name);
  return db
    .prepare(`SELECT DISTINCT ${c} FROM ${tableSql(db, table.name)} WHERE ${c} IS NOT NULL${limit === null ? "" : ` LIMIT ${limit}`}`)
    .pluck()
    .safeIntegers(true)
    .all();
}

function counted(db: Connection, near: Side, far: Side, known: Known, likeness: number): LinkSuggestion {
  const values = valuesOf(db, near, null);
  const found = values.filter((v) => known.exact.has(String(v))).length;
  const alike = values.filter((v) => !known.exact.has(String(v)) && known.folded.has(folded(v))).length;
  const share = (found + ALIKE * alike) / values.length;
  const use = Math.min(1, (found + alike) / far.distinct);
  const speaks = far.column.type.kind === "text" ? TEXTS : NUMBERS;
  const score = share * (speaks + 0.4 * likeness + 0.15 * Math.sqrt(use));
  return {
    spec: specOf(near, far),
    values: values.length,
    found,
    alike,
    farValues: far.distinct,
    used: found,
    unique: true,
    likeness,
    score,
  };
}

function specOf(near: Side, far: Side): LinkSpec {
  const stem = humanise(near.column.name.replace(/[_ ]?(id|key|code|no)$/i, "")) || far.table.label;
  const own = near.table === far.table || stem !== far.table.label;
  return {
    version: 1,
    a: { table: near.table.name, columns: [near.column.name], name: own ? `${plural(near.table.label)} by ${stem}` : plural(near.table.label) },
    b: { table: far.table.name, columns: [far.column.name], name: stem },
    operators: ["is"],
  };
}

/** Rows looked at where the comparisons are not all equalities: every row with every row would take too long. */
const PAIRED_SAMPLE = 2_000;

/** What a link would find on either side, before it is made. */
export function linkEvidence(db: Connection, spec: LinkSpec): LinkEvidence {
  const sampled = spec.operators.some((o) => o !== "is");
  const mirrored = { ...spec, a: spec.b, b: spec.a, operators: spec.operators.map((o) => MIRRORED[o]) };
  return { a: matches(db, spec, sampled), b: matches(db, mirrored, sampled), sampled };
}

const SIGN = { is: "=", isNot: "<>", less: "<", atMost: "<=", greater: ">", atLeast: ">=" } as const;

function matches(db: Connection, { a, b, operators }: LinkSpec, sampled: boolean): Matches {
  const near = tableSql(db, a.table);
  const far = tableSql(db, b.table);
  const inner = sampled
    ? `SELECT (SELECT COUNT(*) FROM ${far} AS b WHERE ${operators.map((o, i) => `a.${quoted(a.columns[i] ?? "")} ${SIGN[o]} b.${quoted(b.columns[i] ?? "")}`).join(" AND ")}) AS n
       FROM (SELECT * FROM ${near} LIMIT ${PAIRED_SAMPLE}) AS a`
    : `SELECT COALESCE(g.n, 0) AS n ${joinedByValue(db, a, b)}`;
  const [rows = 0, found = 0, twice = 0] = db
    .prepare(`SELECT COUNT(*), COUNT(CASE WHEN n > 0 THEN 1 END), COUNT(CASE WHEN n > 1 THEN 1 END) FROM (${inner}) AS led`)
    .raw()
    .get() as number[];
  const missed = sampled || rows === found ? [] : missedOf(db, { a, b });
  return { rows, found, missing: rows - found, twice, missed: missed.slice(0, NAMED), others: missed.length > NAMED };
}

/** The rows of one side, with how many rows the other has of their values. */
const joinedByValue = (db: Connection, a: LinkSpec["a"], b: LinkSpec["b"]): string =>
  `FROM ${tableSql(db, a.table)} AS a LEFT JOIN (SELECT ${b.columns.map((c, i) => `${quoted(c)} AS k${i}`).join(", ")}, COUNT(*) AS n FROM ${tableSql(db, b.table)} GROUP BY ${b.columns.map(quoted).join(", ")}) AS g
       ON ${a.columns.map((c, i) => `g.k${i} = a.${quoted(c)}`).join(" AND ")}`;

/** Values that find none which are named. */
const NAMED = 5;

/** Those, and one more where there are others. */
const missedOf = (db: Connection, { a, b }: Pick<LinkSpec, "a" | "b">): string[] =>
  (
    db
      .prepare(
        `SELECT DISTINCT ${a.columns.map((c) => `a.${quoted(c)}`).join(", ")} ${joinedByValue(db, a, b)} WHERE g.n IS NULL ORDER BY 1 NULLS LAST LIMIT ${NAMED + 1}`,
      )
      .raw()
      .all() as unknown[][]
  ).map((row) => row.map((v) => (v === null ? "(empty)" : String(v))).join(", "));
