import type Database from "better-sqlite3";
import { isIsoDate, readTimestamp } from "@/core/types/date";
import { parseDecimal, rescale } from "@/core/types/decimal";

const orNull = (fn: (text: string) => unknown) => (value: unknown) => (typeof value === "string" ? fn(value) : value === null ? null : fn(String(value)));

/** Case and accents taken away: Unicode NFD without combining marks, in small letters. */
export const fold = (text: string): string => text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/** Each run of letters and digits with a capital, the rest in small letters. */
export const initcap = (text: string): string =>
  text.replace(/[\p{L}\p{N}]+/gu, (word) => {
    const [first = "", ...rest] = word;
    return first.toUpperCase() + rest.join("").toLowerCase();
  });

const lpad = (text: unknown, length: unknown, fill: unknown): string | null => {
  if (text === null || fill === null) return null;
  const [characters, wanted] = [[...String(text)], Math.max(0, Number(length))];
  const missing = wanted - characters.length;
  const filling = [...String(fill)];
  if (missing <= 0 || filling.length === 0) return characters.slice(0, wanted).join("");
  return Array.from({ length: missing }, (_, i) => filling[i % filling.length]).join("") + characters.join("");
};

/** Text read as a scaled integer, digits beyond the scale rounded half away from zero; null where it is no number. */
function readExact(text: string, scale: number): bigint | null {
  const digits = text.trim().split(".")[1]?.length ?? 0;
  const exact = parseDecimal(text, digits);
  return exact === null ? null : rescale(exact, digits, scale);
}

const FLOATING = /^\s*[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?\s*$/;

/** Registers on a connection the functions that the SQLite dialect writes and SQLite itself does not have. */
export function registerFunctions(db: Database.Database): void {
  const pure = { deterministic: true };
  db.function("nl_fold", pure, orNull(fold));
  db.function(
    "nl_upper",
    pure,
    orNull((t) => t.toUpperCase()),
  );
  db.function(
    "nl_lower",
    pure,
    orNull((t) => t.toLowerCase()),
  );
  db.function("nl_initcap", pure, orNull(initcap));
  db.function("nl_lpad", pure, lpad);
  db.function(
    "nl_read_whole",
    pure,
    orNull((t) => readExact(t, 0)),
  );
  db.function("nl_read_decimal", pure, (value: unknown, scale: unknown) => (value === null ? null : readExact(String(value), Number(scale))));
  db.function(
    "nl_read_floating",
    pure,
    orNull((t) => (FLOATING.test(t) ? Number(t) : null)),
  );
  db.function(
    "nl_read_date",
    pure,
    orNull((t) => (isIsoDate(t.trim()) ? t.trim() : null)),
  );
  db.function(
    "nl_read_timestamp",
    pure,
    orNull((t) => readTimestamp(t)),
  );
  db.function(
    "nl_read_yesno",
    pure,
    orNull((t) => ({ yes: 1, no: 0 })[t.trim().toLowerCase()] ?? null),
  );
  db.aggregate("nl_median_tenths", {
    deterministic: true,
    safeIntegers: true,
    start: () => [] as bigint[],
    step: (values: bigint[], next: bigint | null) => {
      if (next !== null) values.push(next);
    },
    result: (values: bigint[]) => {
      if (values.length === 0) return null;
      values.sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
      const at = (i: number) => values[Math.floor(i)] ?? 0n;
      return (at((values.length - 1) / 2) + at(values.length / 2)) * 5n;
    },
  });
  db.function("nl_scaled", pure, (value: unknown, scale: unknown) => (value === null ? null : parseDecimal(String(value), Number(scale))));
}
