import { BIGINT, BOOLEAN, DATE, DOUBLE, DuckDBDateValue, DuckDBTimestampValue, type DuckDBType, type DuckDBValue, TIMESTAMP, VARCHAR } from "@duckdb/node-api";
import { type Cell, isExact, type ValueType } from "@/core/types/valueType";
import { JobFailure } from "@/server/source/failures";

/* Values on their way into the columnar copy, and answers on their way out. */

export const TYPES: Record<ValueType["kind"], DuckDBType> = {
  text: VARCHAR,
  whole: BIGINT,
  decimal: BIGINT,
  floating: DOUBLE,
  date: DATE,
  timestamp: TIMESTAMP,
  yesno: BOOLEAN,
};

/** What is no value of its column's type, though the column is known to hold none such: the copy cannot be made of it. */
export const UNFIT = Symbol("unfit");
type Read = DuckDBValue | typeof UNFIT;

/** As many different days and moments are kept as they were read: most occur many times. */
const MOST_KEPT = 200_000;

function kept<T>(read: (text: string) => T): (text: string) => T {
  const known = new Map<string, T>();
  return (text) => {
    const found = known.get(text);
    if (found !== undefined) return found;
    const value = read(text);
    if (known.size < MOST_KEPT) known.set(text, value);
    return value;
  };
}

const DAY_MS = 86_400_000;

function instantOf(text: string): number | null {
  const instant = Date.parse(`${text.slice(0, 10)}T${text.length > 10 ? text.slice(11) : "00:00:00"}Z`);
  // A day past the end of its month is another day to the machine's clock, or none.
  return Number.isNaN(instant) || new Date(instant).toISOString().slice(0, 10) !== text.slice(0, 10) ? null : instant;
}

function dayOf(text: string): Read {
  const instant = /^\d{4}-\d\d-\d\d$/.test(text) ? instantOf(text) : null;
  return instant === null ? UNFIT : new DuckDBDateValue(instant / DAY_MS);
}

/** To the microsecond, as a server keeps it. */
function momentOf(text: string): Read {
  const [, seconds, parts = ""] = /^(\d{4}-\d\d-\d\d (?:[01]\d|2[0-3]):[0-5]\d:[0-5]\d)(?:\.(\d{1,6}))?$/.exec(text) ?? [];
  const instant = seconds === undefined ? null : instantOf(seconds);
  return instant === null ? UNFIT : new DuckDBTimestampValue(BigInt(instant) * 1000n + BigInt(parts.padEnd(6, "0")));
}

/** A text that cannot be told from another by its characters: one with an end in its midst, or with bytes that are none. */
const NO_TEXT = /[\u0000\uFFFD]/;

/**
 * Letters whose case and accents the copy's engine takes as the ledger does: those of ASCII, Latin-1 and Latin Extended-A,
 * but for ligatures and marks that stand for several letters, and what stands beside letters there. Tried letter by letter
 * (columnar.test.ts).
 */
export const UNLIKE = /[^\u0001-\u007E\u00A1-\u00A9\u00AB-\u00B4\u00B6-\u00B9\u00BB-\u012F\u0131\u0134-\u013E\u0141-\u0148\u014A-\u017E\u2010-\u2027\u20AC]/u;

/** Reads what SQLite answers for a column (integers as bigints) as a value of the copy. @param unlike told of a text whose letters are others'  */
export function valueReader(type: ValueType, unlike: () => void): (stored: unknown) => Read {
  if (isExact(type)) return (v) => (typeof v === "bigint" ? v : UNFIT);
  if (type.kind === "yesno") return (v) => (v === 0n || v === 1n ? v === 1n : UNFIT);
  if (type.kind === "floating") return (v) => (typeof v === "number" && Number.isFinite(v) ? v : typeof v === "bigint" ? Number(v) : UNFIT);
  const read = textReader(type, unlike);
  return (v) => (typeof v === "string" ? read(v) : UNFIT);
}

/** Reads what a database server writes for a column as a value of the copy. @param unlike told of a text whose letters are others' */
export function writtenReader(type: ValueType, unlike: () => void): (written: string) => Read {
  if (isExact(type)) return (v) => (/^-?\d{1,19}$/.test(v) && BigInt.asIntN(64, BigInt(v)) === BigInt(v) ? BigInt(v) : UNFIT);
  if (type.kind === "yesno") return (v) => (v === "t" || v === "f" ? v === "t" : UNFIT);
  if (type.kind === "floating") return (v) => (Number.isFinite(Number(v)) ? Number(v) : UNFIT);
  return textReader(type, unlike);
}

function textReader({ kind }: ValueType, unlike: () => void): (text: string) => Read {
  if (kind !== "text") return kept(kind === "date" ? dayOf : momentOf);
  return (text) => {
    if (NO_TEXT.test(text)) return UNFIT;
    if (UNLIKE.test(text)) unlike();
    return text;
  };
}

/** An answer of the copy's engine as a cell, as SQLite's would be. @throws JobFailure tooLarge where a figure outgrew 64 bits */
export function cellOf(value: DuckDBValue, type: ValueType): Cell {
  if (value === null || value === undefined) return null;
  if (typeof value === "boolean") return Number(value);
  if (typeof value === "bigint") {
    if (BigInt.asIntN(64, value) !== value) throw new JobFailure("tooLarge");
    return Number.isSafeInteger(Number(value)) ? Number(value) : value.toString();
  }
  if (typeof value === "number") {
    if (isExact(type) && !Number.isInteger(value)) throw new TypeError("An exact number came as a floating one");
    return value;
  }
  return String(value);
}
