import type { Column } from "../schema/schema";
import { type DateOrder, readDate, readTimestamp } from "../types/date";
import { decimalText, exactText, parseDecimal, rescale, tenTo } from "../types/decimal";
import { type Cell, digitsOf, exactOf, isExact, isMisfit, scaleOf, TYPE_WORDS, type ValueType } from "../types/valueType";

/** A value as the database keeps it. */
export type Stored = null | string | number | bigint;

/** Where a value goes: what its column takes and how it keeps it. */
export type Place = Pick<Column, "label" | "type" | "storage" | "most">;

export type Coerced = { stored: Stored } | { why: string };

const refuse = (why: string): Coerced => ({ why });
const no = (written: string, type: ValueType): Coerced => refuse(`“${written}” is not a ${TYPE_WORDS[type.kind]}`);

/**
 * A value brought to the type and storage of a column. Nothing is rounded or cut off to fit: what does not fit is
 * refused in words.
 * @param from the type of the value that comes; text is read as the column's type
 * @param order how dates are written in text
 * @example coerce("1240.0", text, weightInKg, "dmy") // { stored: 12400n }
 */
export function coerce(cell: Cell, from: ValueType, place: Place, order: DateOrder): Coerced {
  if (cell === null) return { stored: null };
  if (isMisfit(cell)) return no(cell.misfit, place.type);
  if (from.kind === "text")
    return typeof cell === "string" && cell.trim() === "" && place.type.kind !== "text" ? { stored: null } : readText(String(cell), place, order);
  // A date is a date already; only what comes as text needs to be read.
  if (from.kind === place.type.kind && (from.kind === "date" || from.kind === "timestamp")) return { stored: cell };
  // An exact number is one already: most rows have several, and writing each out takes its time.
  if (isExact(from) && isExact(place.type)) return exactInto(rescale(exactOf(cell) ?? 0n, scaleOf(from), digitsOf(from)), digitsOf(from), place);
  const written = writtenOut(cell, from);
  switch (place.type.kind) {
    case "text":
      return readText(written, place, order);
    case "whole":
    case "decimal":
      if (from.kind === "floating" || from.kind === "yesno") return readText(from.kind === "yesno" ? String(cell) : written, place, order);
      return no(written, place.type);
    case "floating":
      return isExact(from) || from.kind === "floating" ? { stored: Number(written) } : no(written, place.type);
    case "date":
    case "timestamp":
      return from.kind === "date" || from.kind === "timestamp" ? readText(written, place, "ymd") : no(written, place.type);
    case "yesno":
      return from.kind === "yesno" || from.kind === "whole" ? readText(String(cell), place, order) : no(written, place.type);
    default:
      return place.type satisfies never;
  }
}

/** A cell in plain digits and ISO dates. */
export function writtenOut(cell: string | number, type: ValueType): string {
  if (type.kind === "decimal") return exactText(exactOf(cell) ?? 0n, type);
  if (type.kind === "yesno") return Number(cell) === 1 ? "yes" : "no";
  return String(cell);
}

function exactInto(exact: bigint, scale: number, place: Place): Coerced {
  const to = scaleOf(place.type);
  if (scale > to && exact % tenTo(scale - to) !== 0n) return refuse(`${decimalText(exact, scale)} has more decimal places than ${place.label} (${to})`);
  return { stored: keep(rescale(exact, scale, to), place) };
}

function keep(exact: bigint, { type, storage }: Place): Stored {
  if (type.kind !== "decimal" || storage === "scaledInteger") return exact;
  const written = decimalText(exact, type.scale);
  return storage === "digits" || storage === "numeric" ? written : Number(written);
}

const TRUTHS: Record<string, bigint> = { yes: 1n, no: 0n, true: 1n, false: 0n, "1": 1n, "0": 0n };
const FLOATING = /^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/;

function readText(source: string, place: Place, order: DateOrder): Coerced {
  const { type, label, most } = place;
  const trimmed = source.trim();
  switch (type.kind) {
    case "text":
      return most !== undefined && [...source].length > most
        ? refuse(`“${source.slice(0, 20)}…” is longer than the ${most} characters of ${label}`)
        : { stored: source };
    case "whole":
    case "decimal": {
      const digits = Math.min(30, trimmed.split(".")[1]?.length ?? 0);
      const exact = parseDecimal(trimmed.replace(/^\u2212/, "-"), digits);
      return exact === null ? no(source, type) : exactInto(exact, digits, place);
    }
    case "floating":
      return FLOATING.test(trimmed) ? { stored: Number(trimmed) } : no(source, type);
    case "date": {
      const day = readDate(trimmed, order) ?? midnightOf(trimmed, order);
      return day === null ? no(source, type) : { stored: day };
    }
    case "timestamp": {
      const at = readTimestamp(trimmed, order);
      return at === null ? no(source, type) : { stored: at };
    }
    case "yesno": {
      const truth = TRUTHS[trimmed.toLowerCase()];
      return truth === undefined ? no(source, type) : { stored: truth };
    }
    default:
      return type satisfies never;
  }
}

/** The day of a timestamp at midnight: one with a time of day is not a date. */
function midnightOf(source: string, order: DateOrder): string | null {
  const at = readTimestamp(source, order);
  return at?.endsWith(" 00:00:00") ? at.slice(0, 10) : null;
}

/** A stored value as it is typed: in plain digits and ISO dates, one that does not fit as it is stored; "" for nothing. */
export function storedText(stored: Stored | Uint8Array, column: Pick<Column, "type" | "storage">): string {
  const cell = cellOfStored(stored, column);
  return cell === null ? "" : isMisfit(cell) ? cell.misfit : writtenOut(cell, column.type);
}

/** A stored value as a cell of its column; one that does not fit is marked. */
export function cellOfStored(stored: Stored | Uint8Array, { type, storage }: Pick<Column, "type" | "storage">): Cell {
  if (stored === null || stored === undefined) return null;
  if (stored instanceof Uint8Array) return { misfit: `${stored.length} bytes` };
  const compact = (n: bigint): Cell => (Number.isSafeInteger(Number(n)) ? Number(n) : n.toString());
  if (type.kind === "decimal") {
    if (storage === "digits" || storage === "numeric") {
      const exact = parseDecimal(String(stored), type.scale);
      return exact === null ? { misfit: String(stored) } : compact(exact);
    }
    if (typeof stored === "string") return { misfit: stored };
    if (storage === "scaledInteger") return typeof stored === "bigint" ? compact(stored) : { misfit: String(stored) };
    return typeof stored === "bigint" ? compact(stored * tenTo(type.scale)) : Math.round(stored * 10 ** type.scale);
  }
  if (type.kind === "whole" || type.kind === "yesno") return typeof stored === "bigint" ? compact(stored) : { misfit: String(stored) };
  if (type.kind === "floating") return typeof stored === "string" ? { misfit: stored } : Number(stored);
  // A server tells a moment with its offset from UTC; what is read is the time of day that it is in the workspace's zone.
  if (storage === "zoned" && typeof stored === "string") return stored.replace(/[+-]\d\d(:\d\d){0,2}$/, "");
  return typeof stored === "string" ? stored : { misfit: String(stored) };
}
