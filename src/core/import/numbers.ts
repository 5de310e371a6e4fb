/*
 * Numbers as people write them into files: 77,33 €; £40; CHF 1'200.50; (12.00); 12.00-; 3.5 %; 12 kg. What stands beside the digits is
 * their affix. A column is read with one affix: pounds and euros are not one amount.
 */

const GROUPED = /^[+-]?\d{1,3}(?:[,  ' ]\d{3})+(?:\.\d+)?$/;
const GROUPED_COMMA = /^[+-]?\d{1,3}(?:[.  ' ]\d{3})+(?:,\d+)?$/;
const DIGITS_ONLY = /^\d+$/;
const LONGEST = 40;
const NUMBER = /^(?:\d+\.?\d*|\.\d+)$/;
const SIGNED = /^(?:(\p{Sc}|[A-Z]{3})\s*)?([-+\u2212])?\s*(\d(?:[\d.,'’\s]*\d)?[.,]?|[.,]\d+)(\s*)(\p{Sc}|%|[A-Z]{3}|\p{L}{1,5})?\s*([-\u2212])?$/u;
const MINUS = /^[-\u2212]$/;
const CURRENCIES: ReadonlySet<string> = new Set(Intl.supportedValuesOf("currency"));

const [ZERO, NINE, POINT] = [48, 57, 46] as const;
const MOST_SHORT = 14;

/**
 * How many digits a short plain number has after its point; -1 for any other text. Numbers are most of what files hold: they are told
 * without a pattern.
 * @param comma the file writes decimals with a comma
 */
export function plainDigits(value: string, comma: boolean): number {
  const { length } = value;
  if (length > MOST_SHORT || value.charCodeAt(0) === POINT) return -1;
  if (length > 1 && value.charCodeAt(0) === ZERO && value.charCodeAt(1) !== POINT) return -1;
  let point = -1;
  for (let i = 0; i < length; i++) {
    const code = value.charCodeAt(i);
    if (code === POINT && point < 0 && !comma) point = i;
    else if (code < ZERO || code > NINE) return -1;
  }
  return point < 0 ? 0 : length - point - 1;
}

/** The currencies of signs that stand for one alone (ISO 4217; $, ¥ and kr stand for several). */
const CURRENCY_OF_SIGN: Record<string, string> = { "€": "EUR", "£": "GBP", "₹": "INR", "₽": "RUB", "₺": "TRY", "₩": "KRW", "₴": "UAH", "₫": "VND" };

/**
 * A number as a file writes it, in plain digits with a point: thousands set apart are put together.
 * @param comma the file writes decimals with a comma
 * @example plainNumber("1.234,50", true) // "1234.50"
 */
export function plainNumber(source: string, comma: boolean): string {
  const trimmed = source.trim();
  if (DIGITS_ONLY.test(trimmed)) return trimmed;
  if (comma) {
    if (GROUPED_COMMA.test(trimmed)) return trimmed.replace(/[.  ' ]/g, "").replace(",", ".");
    return /^[+-]?\d*,\d+$/.test(trimmed) ? trimmed.replace(",", ".") : trimmed;
  }
  return GROUPED.test(trimmed) ? trimmed.replace(/[,  ' ]/g, "") : trimmed;
}

/**
 * A number with what stands beside it; null for any other text, and for a plain number.
 * @param comma the file writes decimals with a comma; a number that can only be read the other way is read so
 * @returns the number in plain digits with a point, a percentage as its hundredth
 * @example readAffixed("(£1,200.50)", false) // { affix: "£", number: "-1200.50" }
 */
export function readAffixed(source: string, comma: boolean): { affix: string; number: string } | null {
  const trimmed = source.trim();
  if (trimmed === "" || trimmed.length > LONGEST) return null;
  const inBrackets = trimmed.startsWith("(") && trimmed.endsWith(")");
  let inner = inBrackets ? trimmed.slice(1, -1).trim() : trimmed;
  const leading = inner.length > 1 && MINUS.test(inner[0] ?? "");
  if (leading) inner = inner.slice(1).trim();
  const [, before, sign, digits = "", space, after, behind] = SIGNED.exec(inner) ?? [];
  const minuses = [inBrackets, leading, MINUS.test(sign ?? ""), behind !== undefined].filter(Boolean).length;
  if (digits === "" || minuses > 1 || (before && after) || !isAffix(before) || !isAffix(after, space)) return null;
  const affix = before ?? after ?? "";
  if (affix === "" && !inBrackets && behind === undefined) return null;
  const number = [comma, !comma].map((by) => plainNumber(digits.trim(), by)).find((text) => NUMBER.test(text) && !/^0\d/.test(text));
  if (number === undefined) return null;
  return { affix, number: `${minuses > 0 ? "-" : ""}${affix === "%" ? hundredth(number) : number}` };
}

/** A code in capitals is a currency; another word stands apart from the digits: 12 kg, but not A12 or 12B. */
function isAffix(affix: string | undefined, space?: string): boolean {
  if (affix === undefined || !/^\p{L}/u.test(affix)) return true;
  return CURRENCIES.has(affix) || (space !== undefined && space !== "");
}

function hundredth(number: string): string {
  const [whole = "", digits = ""] = number.split(".");
  const padded = whole.padStart(3, "0");
  return `${padded.slice(0, -2)}.${padded.slice(-2)}${digits}`.replace(/^0+(?=\d)/, "");
}

/**
 * A number of a column that is read with an affix, in plain digits with a point; any other text as it is, which no number is.
 * @param affix what may stand beside the digits, besides brackets and a minus behind; undefined where nothing may
 */
export function numberText(source: string, comma: boolean, affix: string | undefined): string {
  const plain = plainNumber(source, comma);
  if (affix === undefined || NUMBER.test(plain.replace(/^[-+]/, ""))) return plain;
  const read = readAffixed(source, comma);
  return read && (read.affix === affix || read.affix === "") ? read.number : plain;
}

/** How the values of a column with an affix are shown: their unit, or as a percentage. */
export const shownWith = (affix: string | undefined): { unit?: string; format?: { percent: true } } =>
  affix === "%" ? { format: { percent: true } } : affix ? { unit: CURRENCY_OF_SIGN[affix] ?? affix } : {};
