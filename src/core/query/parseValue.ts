import { type Expr, literal } from "../expression/expr";
import { isIsoDate, readTimestamp } from "../types/date";
import { isTooLong, MOST_EXACT_DIGITS, parseDecimal } from "../types/decimal";
import { type Problem, problem } from "../types/problem";
import { date, decimal, isDated, isNumber, TYPE_WORDS, text, timestamp, type ValueType, whole, yesno } from "../types/valueType";
import type { Path } from "./operands";

const EXAMPLES: Record<ValueType["kind"], string> = {
  text: "text",
  whole: "1200",
  decimal: "1200.50",
  floating: "0.25",
  date: "2026-09-30",
  timestamp: "2026-09-30 14:05",
  yesno: "yes or no",
};

/** Reads a typed value as a literal of its own exact scale, to be aligned with what it is compared with. */
export function parseValue(source: string, type: ValueType, path: Path): Expr | Problem {
  const trimmed = source.trim();
  const bad = () => problem("valueType", path, { value: source, type: TYPE_WORDS[type.kind], example: EXAMPLES[type.kind] });
  if (type.kind === "text") return literal(source, text);
  if (trimmed === "") return problem("valueMissing", path);
  if (isNumber(type)) {
    const plainDigits = trimmed.replace(/^\u2212/, "-");
    const digits = plainDigits.split(".")[1]?.length ?? 0;
    const scaled = parseDecimal(plainDigits, digits);
    if (scaled === null || digits > 12) return bad();
    if (isTooLong(scaled)) return problem("numberLong", path, { most: MOST_EXACT_DIGITS });
    return literal(scaled.toString(), digits === 0 ? whole : decimal(digits));
  }
  if (isDated(type) && isIsoDate(trimmed)) return literal(trimmed, date);
  if (isDated(type)) {
    const instant = type.kind === "timestamp" ? readTimestamp(trimmed) : null;
    return instant === null ? bad() : literal(instant, timestamp);
  }
  const truth = { yes: "1", no: "0" }[trimmed.toLowerCase()];
  return truth === undefined ? bad() : literal(truth, yesno);
}
