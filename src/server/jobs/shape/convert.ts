import { cellOfStored, coerce, type Stored } from "@/core/posting/coerce";
import { quoted } from "@/core/query/dialect/dialect";
import type { Column } from "@/core/schema/schema";
import type { ShapeValue } from "@/core/shape/shapePlan";
import { lookedUp } from "@/core/types/near";
import { isMisfit, text } from "@/core/types/valueType";
import { JobFailure } from "@/server/source/failures";
import type { FileDatabase } from "@/server/source/sqlite/database";

/** What reads a value as that of a column of another type. */
export type Convert = Pick<Extract<ShapeValue, { kind: "convert" }>, "from" | "dates" | "empty" | "mapped" | "fill">;

/** What a value becomes in a column of another type; or why it does not fit. An empty one has what is to be filled in. */
export type Converted = { stored: Stored | Uint8Array } | { why: string; written: string };

/**
 * How one stored value becomes one of another column: read as its own type, mapped where it is said to what, brought to
 * the new one. A value that does not fit its own type is read as the text it is.
 */
export function converter(value: Convert, to: Column): (stored: Stored | Uint8Array) => Converted {
  const mapped = new Map(value.mapped);
  const read = (stored: Stored | Uint8Array): Converted => {
    const cell = cellOfStored(stored, value.from);
    if (cell === null) return { stored: null };
    const written = isMisfit(cell) ? cell.misfit : String(stored);
    const instead = mapped.get(written);
    const made =
      instead !== undefined
        ? coerce(instead, text, to, value.dates)
        : isMisfit(cell)
          ? coerce(cell.misfit, text, to, value.dates)
          : coerce(cell, value.from.type, to, value.dates);
    return "stored" in made ? made : { why: made.why, written };
  };
  return (stored) => {
    const made = read(stored);
    if ("why" in made) return value.empty ? { stored: value.fill } : made;
    return made.stored === null ? { stored: value.fill } : made;
  };
}

/** How many values a converter remembers: columns often have few, each many times. */
const MOST_REMEMBERED = 10_000;

/** The same function, which works each value out once as long as there are few. */
function remembering<T>(work: (stored: Stored | Uint8Array) => T): (stored: Stored | Uint8Array) => T {
  const known = new Map<unknown, T>();
  return (stored) => {
    const found = known.get(stored);
    if (found !== undefined) return found;
    const made = work(stored);
    if (known.size < MOST_REMEMBERED) known.set(stored, made);
    return made;
  };
}

/**
 * Makes converters known to a connection, as SQL functions: one that gives the value and throws for one that does not fit,
 * and one that says whether it fits.
 * @param set tells them from others that the connection knows
 * @returns by each column's id, the SQL of its value from that of what it was
 */
export function registerConverters(
  db: FileDatabase,
  columns: { id: string; column: Column; value: Convert }[],
  set = "shape",
): Map<string, { value: (sql: string) => string; fits: (sql: string) => string }> {
  return new Map(
    columns.map(({ id, column, value }, i) => {
      const convert = remembering(converter(value, column));
      const [made, fits] = [`next_ledger_${set}_${i}`, `next_ledger_${set}_fits_${i}`];
      db.function(made, { deterministic: true, safeIntegers: true }, (stored: unknown) => {
        const done = convert(stored as Stored);
        if ("why" in done) throw new JobFailure("shapeRefused", done.why);
        return done.stored;
      });
      db.function(fits, { deterministic: true, safeIntegers: true }, (stored: unknown) => ("why" in convert(stored as Stored) ? 0n : 1n));
      return [id, { value: (sql: string) => `${made}(${sql})`, fits: (sql: string) => `${fits}(${sql})` }];
    }),
  );
}

type Lookup = Extract<ShapeValue, { kind: "lookup" }>;

/** What a value leads to: the value taken of the one row found; or why there is none. */
type Found = { stored: Stored } | { why: string /** How many rows it may lead to. */; rows: number };

/** Finds rows by one of their columns. @param value what is looked up where, with what values are said to mean */
export function finder(db: FileDatabase, value: Lookup): { find: (stored: Stored | Uint8Array) => Found; names: () => Iterable<string> } {
  const rows = db
    .prepare(`SELECT ${quoted(value.match.name)}, ${quoted(value.give.name)} FROM ${quoted(value.table)} WHERE ${quoted(value.match.name)} IS NOT NULL`)
    .raw()
    .safeIntegers(true)
    .all() as [Stored, Stored][];
  const exact = new Map<string, Stored[]>();
  const folded = new Map<string, Stored[]>();
  for (const [name, give] of rows) {
    for (const [map, key] of [[exact, String(name)] as const, [folded, lookedUp(String(name))] as const]) map.set(key, [...(map.get(key) ?? []), give]);
  }
  const mapped = new Map(value.mapped);
  const find = (stored: Stored | Uint8Array): Found => {
    if (stored === null || String(stored).trim() === "") return { stored: null };
    const written = mapped.get(String(stored)) ?? String(stored);
    const found = exact.get(written) ?? folded.get(lookedUp(written)) ?? [];
    if (found.length === 1) return { stored: found[0] as Stored };
    return { rows: found.length, why: found.length === 0 ? `no row of ${value.table} is called so` : `${found.length} rows of ${value.table} are called so` };
  };
  return { find, names: () => rows.map(([name]) => String(name)) };
}

/** As registerConverters, for columns whose values are looked up. */
export function registerFinders(
  db: FileDatabase,
  columns: { id: string; value: Lookup }[],
): Map<string, { value: (sql: string) => string; fits: (sql: string) => string }> {
  return new Map(
    columns.map(({ id, value }, i) => {
      const find = remembering(finder(db, value).find);
      const [made, fits] = [`next_ledger_found_${i}`, `next_ledger_finds_${i}`];
      db.function(made, { deterministic: true, safeIntegers: true }, (stored: unknown) => {
        const done = find(stored as Stored);
        if ("stored" in done) return done.stored;
        if (!value.empty) throw new JobFailure("shapeRefused", done.why);
        return null;
      });
      db.function(fits, { deterministic: true, safeIntegers: true }, (stored: unknown) => ("why" in find(stored as Stored) ? 0n : 1n));
      return [id, { value: (sql: string) => `${made}(${sql})`, fits: (sql: string) => `${fits}(${sql})` }];
    }),
  );
}
