import { type Stored, storedText } from "@/core/posting/coerce";
import { quoted } from "@/core/query/dialect/dialect";
import type { Column } from "@/core/schema/schema";
import type { ShapeMake, ShapePlan } from "@/core/shape/shapePlan";
import type { ShapeMade } from "@/core/shape/survey";
import { lookedUp } from "@/core/types/near";
import { constraintWords } from "@/server/jobs/posting/constraintWords";
import { EntryWriter } from "@/server/jobs/posting/journal";
import type { NewEntry } from "@/server/jobs/posting/run";
import { Target } from "@/server/jobs/posting/target";
import { JobFailure } from "@/server/source/failures";
import type { FileDatabase } from "@/server/source/sqlite/database";

/*
 * What a change of a table leads to is made before it: new rows of the table its names are looked up in, or a table of some of its columns.
 * Each is an entry of its own in the journal, in the transaction of the change.
 */

/** How many names with differing values are told. */
const MOST_NAMED = 50;
const MOST_VALUES = 3;

/** Who makes it and when; null where it is only tried. */
type Making = Pick<NewEntry, "at" | "by"> | null;

/**
 * Makes what a plan needs to be there, on an open transaction.
 * @throws JobFailure "shapeRefused" where the database will not have it
 */
export const makeBeforehand = (db: FileDatabase, plan: ShapePlan, making: Making): ShapeMade[] =>
  plan.makes.map((make) => (make.kind === "rows" ? makeRows(db, plan, make, making) : makeTable(db, plan, make, making)));

/** The values of a column that are names of something, each with how many rows have it, the most first. */
const namesIn = (db: FileDatabase, table: string, column: string): [name: string, rows: number][] =>
  db
    .prepare(
      `SELECT CAST(${quoted(column)} AS TEXT) AS name, COUNT(*) AS rows FROM ${quoted(table)} WHERE TRIM(${quoted(column)}) <> '' GROUP BY 1 ORDER BY 2 DESC, 1`,
    )
    .raw()
    .all() as [string, number][];

function makeRows(db: FileDatabase, plan: ShapePlan, { id, table, match, from, mapped }: Extract<ShapeMake, { kind: "rows" }>, making: Making): ShapeMade {
  const target = new Target(db, table);
  const known = new Set(namesIn(db, table.name, match.name).map(([name]) => lookedUp(name)));
  const names = new Map<string, string>();
  for (const [name] of namesIn(db, plan.table as string, from.name)) {
    const key = lookedUp(name);
    if (!known.has(key) && !names.has(key) && !mapped.includes(name)) names.set(key, name.trim());
  }
  const made = { id, table: table.name, label: table.label, rows: names.size, differing: { names: 0, values: [] } };
  if (names.size === 0) return made;
  const brief = `Add ${names.size} rows to ${table.label}: names in ${from.label}.`;
  const columns = target.columns.map((c) => c.name);
  const writer = making && new EntryWriter(db, { ...making, kind: "edit", name: `${table.label}: rows added`, brief, table: table.name, columns });
  const before = target.sequence();
  for (const name of names.values()) {
    try {
      const { row, image } = target.insert([match], [name]);
      writer?.sink({ kind: "add", row, before: null, after: image });
    } catch (error) {
      const why = constraintWords(error, { table });
      if (why === null) throw error;
      throw new JobFailure("shapeRefused", `“${name}” cannot be added to ${table.label}: ${why}`);
    }
  }
  writer?.finish(null, { before, after: target.sequence() });
  return made;
}

/** The rows that one name has, by what stands in the columns that are taken. */
type Group = { name: string; rows: number; columns: Map<Stored, number>[] };

function makeTable(db: FileDatabase, plan: ShapePlan, make: Extract<ShapeMake, { kind: "table" }>, making: Making): ShapeMade {
  const { id, name, key, by, columns } = make;
  const taken = columns.map((c) => quoted(c.from.name));
  const rows = db
    .prepare(
      `SELECT CAST(${quoted(by.name)} AS TEXT), COUNT(*), ${taken.join(", ")} FROM ${quoted(plan.table as string)}
       WHERE TRIM(${quoted(by.name)}) <> '' GROUP BY ${[quoted(by.name), ...taken].join(", ")}`,
    )
    .raw()
    .safeIntegers(true)
    .iterate() as Iterable<[string, bigint, ...Stored[]]>;
  const groups = new Map<string, Group>();
  for (const [called, times, ...values] of rows) {
    const folded = lookedUp(called);
    const group = groups.get(folded) ?? { name: called, rows: 0, columns: columns.map(() => new Map()) };
    groups.set(folded, group);
    group.rows += Number(times);
    values.forEach((value, i) => {
      const counts = group.columns[i];
      if (value !== null && value !== "") counts?.set(value, (counts.get(value) ?? 0) + Number(times));
    });
  }
  const ordered = [...groups].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, group]) => group);
  const declared = columns.map((c) => `${quoted(c.name)} ${c.declared}${c.from.name === by.name ? " NOT NULL" : ""}`.trim());
  db.exec(`CREATE TABLE ${quoted(name)} (${[`${quoted(key)} INTEGER PRIMARY KEY`, ...declared].join(", ")})`);
  const insert = db.prepare(`INSERT INTO ${quoted(name)} VALUES (NULL${columns.map(() => ", ?").join("")})`);
  for (const group of ordered) insert.run(group.columns.map(mostFrequent));
  // Spellings of the name itself are what is brought together.
  const differing = ordered.flatMap((group) =>
    columns.flatMap((c, i) => {
      const counts = group.columns[i] ?? new Map();
      return counts.size > 1 && c.from.name !== by.name ? [`${group.name}: ${c.from.label} ${valuesOf(counts, c.from)}`] : [];
    }),
  );
  const unnamed = unnamedRows(db, plan.table as string, make);
  if (unnamed > 0) differing.unshift(`without ${by.label}: ${unnamed} ${unnamed === 1 ? "row" : "rows"} with values that would be lost`);
  if (making) {
    const brief = `Create the table ${name} from ${columns.map((c) => c.from.name).join(", ")} of ${plan.table}.`;
    new EntryWriter(db, { ...making, kind: "table", name: `${name}: created`, brief, table: name, columns: [key, ...columns.map((c) => c.name)] }).finishTable(
      ordered.length,
    );
  }
  return { id, table: name, label: name, rows: ordered.length, differing: { names: differing.length, values: differing.slice(0, MOST_NAMED) } };
}

/** Rows that have no name, and values all the same in columns that are taken: they find no place in the new table. */
function unnamedRows(db: FileDatabase, table: string, { by, columns }: Extract<ShapeMake, { kind: "table" }>): number {
  const others = columns.filter((c) => c.from.name !== by.name).map((c) => `${quoted(c.from.name)} <> ''`);
  if (others.length === 0) return 0;
  const sql = `SELECT COUNT(*) FROM ${quoted(table)} WHERE COALESCE(TRIM(${quoted(by.name)}), '') = '' AND (${others.join(" OR ")})`;
  return Number(db.prepare(sql).pluck().get());
}

const byRows = (counts: Map<Stored, number>): [Stored, number][] => [...counts].sort(([a, n], [b, m]) => m - n || (String(a) < String(b) ? -1 : 1));

/** Values with how many rows have each: the most frequent. */
const valuesOf = (counts: Map<Stored, number>, column: Column): string =>
  byRows(counts)
    .slice(0, MOST_VALUES)
    .map(([value, rows]) => `${storedText(value, column)} (${rows})`)
    .join(", ") + (counts.size > MOST_VALUES ? ", …" : "");

/** The value that most rows have; of several, the first in order. */
const mostFrequent = (counts: Map<Stored, number>): Stored => byRows(counts)[0]?.[0] ?? null;
