import { isIsoDate, readTimestamp } from "./date";
import { parseDecimal, rescale } from "./decimal";
import type { ValueType } from "./valueType";

/*
 * What the ledger does with texts that databases do each in their own way. The engine registers these as functions of
 * its SQLite connections; the recount uses them as they are.
 */

/** Letters with a stroke, ligatures and the final sigma, which have no decomposition. */
const LETTERS: Record<string, string> = { æ: "ae", œ: "oe", ß: "ss", ĳ: "ij", ø: "o", ł: "l", ŀ: "l", đ: "d", ð: "d", ħ: "h", ſ: "s", ς: "σ", ª: "a", º: "o" };

/** Marks that make another letter of the one they stand on: й is none of и. */
const MARKED = /(?!\u0438\u0306)([\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic}])\p{M}+/gu;

/**
 * Case, accents and strokes taken away in Latin, Greek and Cyrillic, as comparing at primary strength does (Unicode
 * Technical Standard 10; the root collation of CLDR); other scripts stay whole but for their case.
 * @example fold("Łucja Ærø") // "lucja aero"
 */
export function fold(source: string): string {
  const small = source.toLowerCase();
  if (/^[\x00-\x7f]*$/.test(small)) return small;
  const bare = small.normalize("NFD").replace(MARKED, "$1").normalize("NFC");
  return bare.replace(/[æœßĳøłŀđðħſςªº]/g, (letter) => LETTERS[letter] ?? letter);
}

/** Each run of letters and digits, with the marks on them, with a capital, the rest in small letters. */
export const initcap = (source: string): string =>
  source.replace(/[\p{L}\p{N}][\p{L}\p{N}\p{M}]*/gu, (word) => {
    const [first = "", ...rest] = word;
    return first.toUpperCase() + rest.join("").toLowerCase();
  });

/** The n-th part of a text, from 1, between separators; null where it is empty or there is none. */
export const splitPart = (source: string, separator: string, n: number): string | null => source.split(separator)[n - 1] || null;

/** A text from its n-th part on; null where nothing is left. */
export const splitRest = (source: string, separator: string, n: number): string | null =>
  source
    .split(separator)
    .slice(n - 1)
    .join(separator) || null;

/** The longest text a formula may make, in characters. */
export const MOST_CHARACTERS = 1_000_000;

/** Filled up on the left to a length, or cut to it. @throws RangeError past MOST_CHARACTERS */
export function lpad(source: string, length: number, fill: string): string {
  const characters = [...source];
  const wanted = Math.max(0, length);
  if (wanted > MOST_CHARACTERS) throw new RangeError("text too long");
  const filling = [...fill];
  const missing = wanted - characters.length;
  if (missing <= 0 || filling.length === 0) return characters.slice(0, wanted).join("");
  return Array.from({ length: missing }, (_, i) => filling[i % filling.length]).join("") + characters.join("");
}

/** Text read as a scaled integer, digits beyond the scale rounded half away from zero; null where it is no number, or one of more than 64 bits. */
export function readExact(source: string, scale: number): bigint | null {
  const digits = source.trim().split(".")[1]?.length ?? 0;
  const exact = parseDecimal(source, digits);
  const scaled = exact === null ? null : rescale(exact, digits, scale);
  return scaled !== null && BigInt.asIntN(64, scaled) === scaled ? scaled : null;
}

/** As stored digits are read: none may be rounded away. */
export function readScaled(source: string, scale: number): bigint | null {
  const scaled = parseDecimal(source, scale);
  return scaled !== null && BigInt.asIntN(64, scaled) === scaled ? scaled : null;
}

const FLOATING = /^\s*[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?\s*$/;

/** Text read as a value of a type (CAST); null where it is none. Yes and no are true and false. */
export function readAs(source: string, type: ValueType): bigint | number | string | boolean | null {
  switch (type.kind) {
    case "text":
      return source;
    case "whole":
      return readExact(source, 0);
    case "decimal":
      return readExact(source, type.scale);
    case "floating":
      return FLOATING.test(source) ? Number(source) : null;
    case "date":
      return isIsoDate(source.trim()) ? source.trim() : null;
    case "timestamp":
      return readTimestamp(source);
    case "yesno":
      return { yes: true, no: false }[source.trim().toLowerCase()] ?? null;
    default:
      return type satisfies never;
  }
}
