import { call, type Expr, literal, period } from "../expression/expr";
import { comparison } from "../expression/functions";
import type { Calendar } from "../types/calendar";
import { GROUP_PART_WORDS, type GroupPart } from "../types/date";
import { parseDecimal } from "../types/decimal";
import { type Problem, problem } from "../types/problem";
import { date, isDated, isNumber, scaleOf, TYPE_WORDS, text, type ValueType, whole } from "../types/valueType";
import type { Operand } from "./spec";

/*
 * A field by a part of its values: dates by their periods, numbers by bands, texts by their first letters. What rows are
 * grouped by.
 */

type FieldOperand = Extract<Operand, { kind: "field" }>;
type Path = Problem["path"];

/** A field's value as an operand asks for it. @param calendar of the workspace: when its business years begin */
export function partOfField({ part, band, limits, letters }: FieldOperand, field: Expr, calendar: Calendar, path: Path): Expr | Problem {
  if (limits) return bandByLimits(field, limits, path);
  if (band) return bandOfWidth(field, band.width, path);
  if (letters) return firstLetters(field, letters, path);
  return part ? partOfDate(field, part, calendar, path) : field;
}

function partOfDate(field: Expr, part: GroupPart, calendar: Calendar, path: Path): Expr | Problem {
  if (!isDated(field.type)) return problem("datePartType", path, { part: GROUP_PART_WORDS[part], type: TYPE_WORDS[field.type.kind] });
  if (part === "weekday") return call("extractDOW", [field], whole);
  return part === "businessYear" ? businessYearOf(field, calendar.yearStart) : period(part, field);
}

/** The first day of the business year a date lies in: moved back by how far into the year those begin, it lies in that calendar year. */
function businessYearOf(field: Expr, yearStart: string): Expr {
  const [month = 1, day = 1] = yearStart.split("-").map(Number);
  const count = (n: number) => literal(String(n), whole);
  const back = call("addMonths", [call("addDays", [period("day", field), count(1 - day)], date), count(1 - month)], date);
  return call("addDays", [call("addMonths", [period("year", back), count(month - 1)], date), count(day - 1)], date);
}

/** The lower bound of the band a number lies in; bands are counted from 0 and take their lower bound in. */
function bandOfWidth(field: Expr, width: string, path: Path): Expr | Problem {
  if (!isNumber(field.type)) return problem("bandType", path, { type: TYPE_WORDS[field.type.kind] });
  const digits = parseDecimal(width.trim(), scaleOf(field.type));
  if (field.type.kind === "floating" ? !(Number(width) > 0) : digits === null || digits <= 0n) return problem("bandWidth", path);
  return call("band", [field, literal(field.type.kind === "floating" ? width.trim() : String(digits), field.type)], field.type);
}

/** The greatest limit that a number is not less than; what is less than all of them has a value below them, the same for all. */
function bandByLimits(field: Expr, limits: string[], path: Path): Expr | Problem {
  const { type } = field;
  if (!isNumber(type)) return problem("bandType", path, { type: TYPE_WORDS[type.kind] });
  const sizes = limits.map((limit) => limitSize(limit, type));
  if (sizes.some((size, i) => size === null || (i > 0 && size <= (sizes[i - 1] ?? 0)))) return problem("bandLimits", path);
  const bounds = sizes.map((size) => literal(String(size), type));
  const below = literal(String(type.kind === "floating" ? Number(sizes[0]) - 1 : BigInt(sizes[0] ?? 0) - 1n), type);
  const cases = bounds.toReversed().flatMap((bound) => [comparison("atLeast", field, bound) as Expr, bound]);
  return call("case", [...cases, call("isNotNull", [field], { kind: "yesno" }), below], type);
}

/** A limit as its type holds it: a scaled integer, or a floating number; null where it is none. */
const limitSize = (limit: string, type: ValueType): bigint | number | null => {
  if (type.kind !== "floating") return parseDecimal(limit.trim(), scaleOf(type));
  return limit.trim() === "" || Number.isNaN(Number(limit)) ? null : Number(limit);
};

function firstLetters(field: Expr, letters: number, path: Path): Expr | Problem {
  if (field.type.kind !== "text") return problem("lettersType", path, { type: TYPE_WORDS[field.type.kind] });
  return call("upper", [call("substring", [field, literal("1", whole), literal(String(letters), whole)], text)], text);
}

/** Whether a field's numbers stand for stretches of it: they are not added up. */
export const isParted = ({ part, band, limits }: FieldOperand): boolean => Boolean(part ?? band ?? limits);

/** "month of lodged on", "weight by 10", "weight by limits 10; 50", "first letter of name" */
export function partWords({ part, band, limits, letters }: Pick<FieldOperand, "part" | "band" | "limits" | "letters">, words: string): string {
  if (limits) return `${words} by limits ${limits.join("; ")}`;
  if (band) return `${words} by ${band.width}`;
  if (letters) return `first ${letters === 1 ? "letter" : `${letters} letters`} of ${words}`;
  return part ? `${GROUP_PART_WORDS[part]} of ${words}` : words;
}
