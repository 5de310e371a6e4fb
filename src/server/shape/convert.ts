import type Database from "better-sqlite3";
import { cellOfStored, coerce, type Stored } from "@/core/posting/coerce";
import type { Column } from "@/core/schema/schema";
import type { ShapeValue } from "@/core/shape/plan";
import { isMisfit, text } from "@/core/types/valueType";
import { JobFailure } from "@/server/engine/failures";

type Convert = Extract<ShapeValue, { kind: "convert" }>;

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

/**
 * Makes converters known to a connection, as SQL functions: one that gives the value and throws for one that does not fit,
 * and one that says whether it fits.
 * @returns by each column's id, the SQL of its value from that of what it was
 */
export function registerConverters(
  db: Database.Database,
  columns: { id: string; column: Column; value: Convert }[],
): Map<string, { value: (sql: string) => string; fits: (sql: string) => string }> {
  return new Map(
    columns.map(({ id, column, value }, i) => {
      const convert = converter(value, column);
      const [made, fits] = [`next_ledger_shape_${i}`, `next_ledger_fits_${i}`];
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
