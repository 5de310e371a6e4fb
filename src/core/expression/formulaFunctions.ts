import { readRegexp } from "../types/regexp";
import { date, decimal, floating, isDated, isNumber, scaleOf, text, timestamp, type ValueType, whole, yesno } from "../types/valueType";
import { call, type Expr, literal, period } from "./expr";
import { atTime, dateText, extreme, monthsBetween, numberText, ONE, truncated, wholeOf, yearsBetween, ZERO } from "./formulaBuilders";
import { asText, comparison, rounded, toFloating, toScale } from "./functions";

/** What a function's own check asks of its arguments; each refuses with the argument's place. */
export type Ask = {
  count: number;
  any: (index: number) => Expr;
  text: (index: number) => Expr;
  number: (index: number) => Expr;
  exact: (index: number) => Expr;
  whole: (index: number) => Expr;
  date: (index: number) => Expr;
  /** A whole number written out in the formula, not computed. */
  written: (index: number) => number;
  /** A text written out in the formula. */
  words: (index: number) => string;
  /** Refuses the argument at a place, which is what a sentence says it is. */
  refuse: (index: number, code: "regexpWrong" | "numberPattern") => never;
  /** All arguments brought to one type. */
  common: () => Expr[];
};

/** `example` is a formula that is true: it shows what comes out. */
export type FormulaFunction = { form: string; example: string; help: string; least: number; most: number; build: (ask: Ask) => Expr };

/** Each is compared with every other, so that many would be long. */
const MOST_COMPARED = 8;

/** A function of one number that comes to a floating one. */
const floatingFunction = (name: string, fn: "sqrt" | "exp" | "ln" | "log10", example: string, help: string): FormulaFunction => ({
  form: `${name}(number)`,
  example,
  help,
  least: 1,
  most: 1,
  build: (a) => call(fn, [toFloating(a.number(0))], floating),
});

/** A text, what divides it, and the number of a part; an empty separator divides nothing. */
const splitting = (a: Ask): Expr[] => [a.text(0), call("nullIf", [a.text(1), literal("", text)], text), literal(String(Math.max(1, a.written(2))), whole)];

/**
 * The functions a formula calls by name (ISO/IEC 9075-2, or common practice of SQL engines where marked). The type check,
 * the editor's completion and the guide read this table; SQL is in functions.ts and the dialects.
 */
export const FORMULA_FUNCTIONS: Record<string, FormulaFunction> = {
  ABS: {
    form: "ABS(number)",
    example: "ABS(-12.50) = 12.50",
    help: "The number without its sign.",
    least: 1,
    most: 1,
    build: (a) => call("abs", [a.number(0)], a.number(0).type),
  },
  CEILING: {
    form: "CEILING(number)",
    example: "CEILING(12.1) = 13",
    help: "Rounded up to a whole number.",
    least: 1,
    most: 1,
    build: (a) => wholeOf("ceiling", a.number(0)),
  },
  CHAR_LENGTH: {
    form: "CHAR_LENGTH(text)",
    example: "CHAR_LENGTH('Pell') = 4",
    help: "Number of characters.",
    least: 1,
    most: 1,
    build: (a) => call("charLength", [a.text(0)], whole),
  },
  COALESCE: {
    form: "COALESCE(value, value, …)",
    example: "COALESCE(NULL, 'none') = 'none'",
    help: "The first value that is not empty.",
    least: 1,
    most: 20,
    build: (a) => call("coalesce", a.common(), a.common()[0]?.type ?? text),
  },
  CONCAT: {
    form: "CONCAT(value, value, …)",
    example: "CONCAT('Pell', NULL, 7) = 'Pell7'",
    help: "Joins the values that are not empty. Common practice.",
    least: 1,
    most: 30,
    build: (a) => call("concatWs", [literal("", text), ...Array.from({ length: a.count }, (_, i) => asText(a.any(i)))], text),
  },
  CONCAT_WS: {
    form: "CONCAT_WS(between, value, value, …)",
    example: "CONCAT_WS(', ', 'Pell', NULL, 'Skarrow') = 'Pell, Skarrow'",
    help: "Joins the values that are not empty, with a separator. Common practice.",
    least: 2,
    most: 30,
    build: (a) => call("concatWs", [a.text(0), ...Array.from({ length: a.count - 1 }, (_, i) => asText(a.any(i + 1)))], text),
  },
  FLOOR: {
    form: "FLOOR(number)",
    example: "FLOOR(12.9) = 12",
    help: "Rounded down to a whole number.",
    least: 1,
    most: 1,
    build: (a) => wholeOf("floor", a.number(0)),
  },
  GREATEST: {
    form: "GREATEST(value, value, …)",
    example: "GREATEST(3, 12.5, -7) = 12.5",
    help: "The greatest of some values; empty if one of them is empty.",
    least: 2,
    most: MOST_COMPARED,
    build: (a) => extreme("atLeast", a.common()),
  },
  INITCAP: {
    form: "INITCAP(text)",
    example: "INITCAP('oat holm') = 'Oat Holm'",
    help: "First letter of each word in upper case, the rest in lower case. Common practice.",
    least: 1,
    most: 1,
    build: (a) => call("initcap", [a.text(0)], text),
  },
  LAST_DAY: {
    form: "LAST_DAY(date)",
    example: "LAST_DAY(DATE '2024-02-10') = DATE '2024-02-29'",
    help: "The last day of a date’s month. Common practice.",
    least: 1,
    most: 1,
    build: (a) => call("addDays", [call("addMonths", [period("month", a.date(0)), ONE], date), literal("-1", whole)], date),
  },
  LEAST: {
    form: "LEAST(value, value, …)",
    example: "LEAST(3, 12.5, -7) = -7",
    help: "The least of some values; empty if one of them is empty.",
    least: 2,
    most: MOST_COMPARED,
    build: (a) => extreme("atMost", a.common()),
  },
  LEFT: {
    form: "LEFT(text, count)",
    example: "LEFT('Skarrow', 3) = 'Ska'",
    help: "The first characters of a text. Common practice.",
    least: 2,
    most: 2,
    build: (a) => call("substring", [a.text(0), ONE, a.whole(1)], text),
  },
  LOWER: {
    form: "LOWER(text)",
    example: "LOWER('Pell') = 'pell'",
    help: "The text in lower case.",
    least: 1,
    most: 1,
    build: (a) => call("lower", [a.text(0)], text),
  },
  LPAD: {
    form: "LPAD(text, length, fill)",
    example: "LPAD('7', 3, '0') = '007'",
    help: "Padded on the left to a length, or cut to it. Default padding: spaces. Common practice.",
    least: 2,
    most: 3,
    build: (a) => call("lpad", [a.text(0), literal(String(a.written(1)), whole), a.count > 2 ? a.text(2) : literal(" ", text)], text),
  },
  LTRIM: {
    form: "LTRIM(text)",
    example: "LTRIM('  Pell ') = 'Pell '",
    help: "The text without spaces before it. Common practice.",
    least: 1,
    most: 1,
    build: (a) => call("trimStart", [a.text(0)], text),
  },
  MINUTES_BETWEEN: {
    form: "MINUTES_BETWEEN(from, to)",
    example: "MINUTES_BETWEEN(CAST('2026-03-01 23:50:00' AS TIMESTAMP), CAST('2026-03-02 00:20:30' AS TIMESTAMP)) = 30",
    help: "Whole minutes from one timestamp to another; below zero where the second is earlier. Divide by 60 for hours.",
    least: 2,
    most: 2,
    build: (a) => call("minutesBetween", [atTime(a.date(1)), atTime(a.date(0))], whole),
  },
  MONTHS_BETWEEN: {
    form: "MONTHS_BETWEEN(from, to)",
    example: "MONTHS_BETWEEN(DATE '2026-01-31', DATE '2026-03-30') = 1",
    help: "Whole months from one date to another, counted when the same day of the month is reached; below zero where the second is earlier.",
    least: 2,
    most: 2,
    build: (a) => monthsBetween(a.date(0), a.date(1)),
  },
  MOD: {
    form: "MOD(number, number)",
    example: "MOD(17, 5) = 2",
    help: "Remainder of a division, with the sign of the first number; empty if the second is 0.",
    least: 2,
    most: 2,
    build: (a) => {
      const scale = Math.max(scaleOf(a.exact(0).type), scaleOf(a.exact(1).type));
      return call("mod", [toScale(a.exact(0), scale), toScale(a.exact(1), scale)], scale === 0 ? whole : decimal(scale));
    },
  },
  NULLIF: {
    form: "NULLIF(value, value)",
    example: "NULLIF('n/a', 'n/a') IS NULL",
    help: "Empty if the two values are equal, otherwise the first.",
    least: 2,
    most: 2,
    build: (a) => call("nullIf", a.common(), a.common()[0]?.type ?? text),
  },
  POSITION: {
    form: "POSITION(part IN text)",
    example: "POSITION('row' IN 'Skarrow') = 5",
    help: "Position of a part in a text, counted from 1; 0 if it is not found.",
    least: 2,
    most: 2,
    build: (a) => call("position", [a.text(0), a.text(1)], whole),
  },
  REPLACE: {
    form: "REPLACE(text, part, by)",
    example: "REPLACE('a-b-c', '-', '/') = 'a/b/c'",
    help: "Replaces every occurrence of a part. Common practice.",
    least: 3,
    most: 3,
    build: (a) => call("replace", [a.text(0), a.text(1), a.text(2)], text),
  },
  RIGHT: {
    form: "RIGHT(text, count)",
    example: "RIGHT('Skarrow', 3) = 'row'",
    help: "The last characters of a text. Common practice.",
    least: 2,
    most: 2,
    build: (a) => {
      const from = call("subtract", [call("charLength", [a.text(0)], whole), call("subtract", [a.whole(1), ONE], whole)], whole);
      return call("substring", [a.text(0), from, a.whole(1)], text);
    },
  },
  ROUND: {
    form: "ROUND(number, digits)",
    example: "ROUND(2.345, 2) = 2.35",
    help: "Rounded, halves away from zero; without digits, to a whole number.",
    least: 1,
    most: 2,
    build: (a) => rounded(a.exact(0), a.count > 1 ? a.written(1) : 0),
  },
  RTRIM: {
    form: "RTRIM(text)",
    example: "RTRIM('  Pell ') = '  Pell'",
    help: "The text without spaces after it. Common practice.",
    least: 1,
    most: 1,
    build: (a) => call("trimEnd", [a.text(0)], text),
  },
  SPLIT_PART: {
    form: "SPLIT_PART(text, separator, number)",
    example: "SPLIT_PART('Pell, Anna', ', ', 2) = 'Anna'",
    help: "Part of a text between separators, by its number, counted from 1; empty if there is no such part. Common practice.",
    least: 3,
    most: 3,
    build: (a) => call("splitPart", splitting(a), text),
  },
  SPLIT_REST: {
    form: "SPLIT_REST(text, separator, number)",
    example: "SPLIT_REST('12 Kiln Row, Skarrow', ' ', 2) = 'Kiln Row, Skarrow'",
    help: "The rest of a text, from a part with a number to the end; empty if there is no such part.",
    least: 3,
    most: 3,
    build: (a) => call("splitRest", splitting(a), text),
  },
  SQRT: floatingFunction("SQRT", "sqrt", "SQRT(16) = 4.0", "The number whose square it is; empty for a negative one."),
  EXP: floatingFunction("EXP", "exp", "ROUND(CAST(EXP(1) AS DECIMAL(9, 4)), 3) = 2.718", "e to the power of the number."),
  LN: floatingFunction("LN", "ln", "LN(1) = 0.0", "The natural logarithm; empty where the number is not above 0."),
  LOG10: floatingFunction("LOG10", "log10", "LOG10(1000) = 3.0", "The logarithm to base 10; empty where the number is not above 0."),
  POWER: {
    form: "POWER(number, exponent)",
    example: "POWER(2, 10) = 1024.0",
    help: "The number raised to a power; empty where it has no value, such as POWER(-4, 0.5).",
    least: 2,
    most: 2,
    build: (a) => call("power", [toFloating(a.number(0)), toFloating(a.number(1))], floating),
  },
  SIGN: {
    form: "SIGN(number)",
    example: "SIGN(-12.50) = -1",
    help: "1 above zero, 0 at zero, −1 below. Common practice.",
    least: 1,
    most: 1,
    build: (a) => {
      const [of, zero] = [a.number(0), ZERO];
      const when = (fn: "less" | "is" | "greater") => comparison(fn, of, zero) as Expr;
      return call("case", [when("less"), literal("-1", whole), when("is"), ZERO, when("greater"), ONE], whole);
    },
  },
  SUBSTRING: {
    form: "SUBSTRING(text FROM start FOR count)",
    example: "SUBSTRING('Skarrow' FROM 2 FOR 3) = 'kar'",
    help: "Part of a text; the first character is 1. Commas work instead of FROM and FOR.",
    least: 2,
    most: 3,
    build: (a) => call("substring", [a.text(0), a.whole(1), a.count > 2 ? a.whole(2) : call("charLength", [a.text(0)], whole)], text),
  },
  TRIM: {
    form: "TRIM(text)",
    example: "TRIM('  Pell ') = 'Pell'",
    help: "The text without spaces at both ends.",
    least: 1,
    most: 1,
    build: (a) => call("trim", [a.text(0)], text),
  },
  TRUNC: {
    form: "TRUNC(number, digits)",
    example: "TRUNC(-2.679, 2) = -2.67",
    help: "Leaves out the digits after a number of decimal places, and all decimals where no number is given. Common practice.",
    least: 1,
    most: 2,
    build: (a) => truncated(a.exact(0), a.count > 1 ? a.written(1) : 0),
  },
  REGEXP_LIKE: {
    form: "REGEXP_LIKE(text, pattern)",
    example: "REGEXP_LIKE('BW-64386', '^BW-\\d{5}$')",
    help: "Whether a regular expression is found in the text: characters, . [abc] \\d \\w \\s ^ $ | ( ) and the repeats * + ? {2,4}. Letter case counts.",
    least: 2,
    most: 2,
    build: (a) => call("regexp", [a.text(0), literal(readRegexp(a.words(1)) ?? a.refuse(1, "regexpWrong"), text)], yesno),
  },
  TO_CHAR: {
    form: "TO_CHAR(date or number, pattern)",
    example: "TO_CHAR(DATE '2026-03-09', 'DD.MM.YYYY, Q') || TO_CHAR(1234.5, ' #,##0.00') = '09.03.2026, 1 1,234.50'",
    help: "A date as text: YYYY, MM, DD, Q (quarter), IW (ISO week), HH24 and MI are replaced (common practice). A number as text: '#,##0.00' writes thousands with a comma and two decimals, '000' three digits at least (Unicode UTS 35, number patterns).",
    least: 2,
    most: 2,
    build: (a) => (isDated(a.any(0).type) ? dateText(a.date(0), a.words(1)) : (numberText(a.exact(0), a.words(1)) ?? a.refuse(1, "numberPattern"))),
  },
  UPPER: {
    form: "UPPER(text)",
    example: "UPPER('Pell') = 'PELL'",
    help: "The text in upper case.",
    least: 1,
    most: 1,
    build: (a) => call("upper", [a.text(0)], text),
  },
  YEARS_BETWEEN: {
    form: "YEARS_BETWEEN(from, to)",
    example: "YEARS_BETWEEN(DATE '2000-02-29', DATE '2026-02-28') = 25",
    help: "Whole years from one date to another: an age. Counted when the same day of the year is reached; below zero where the second is earlier.",
    least: 2,
    most: 2,
    build: (a) => yearsBetween(a.date(0), a.date(1)),
  },
};

/** What completion offers beside the functions: forms with words of their own. */
export const FORMULA_FORMS: { form: string; example: string; help: string }[] = [
  {
    form: "CASE WHEN condition THEN value ELSE value END",
    example: "CASE WHEN 3 > 2 THEN 'more' ELSE 'less' END = 'more'",
    help: "The value of the first condition that is true.",
  },
  {
    form: "CAST(value AS type)",
    example: "CAST('12.5' AS DECIMAL(9, 2)) = 12.50",
    help: "TEXT, INTEGER, DECIMAL(digits, scale), DOUBLE, DATE, TIMESTAMP or BOOLEAN; empty if the value does not fit.",
  },
  { form: "CURRENT_DATE", example: "CURRENT_DATE = CURRENT_DATE", help: "The date of the run." },
  {
    form: "EXTRACT(part FROM date)",
    example: "EXTRACT(QUARTER FROM DATE '2026-09-30') = 3",
    help: "YEAR, QUARTER, MONTH, WEEK (ISO), DAY, DOW (Monday is 1), HOUR or MINUTE, as a whole number.",
  },
  {
    form: "DATE '2026-09-30'",
    example: "DATE '2026-01-31' + INTERVAL '1' MONTH = DATE '2026-02-28'",
    help: "A date. Add days with + and −; MINUTE, HOUR, WEEK, MONTH and YEAR with + INTERVAL '1' MONTH.",
  },
];

/** Reads the type named in a CAST. null where there is no such type. */
export function namedType(name: string, numbers: number[]): ValueType | null {
  if (/^(TEXT|VARCHAR|CHAR|CHARACTER)$/.test(name)) return text;
  if (/^(INTEGER|INT|BIGINT|SMALLINT)$/.test(name)) return whole;
  if (/^(DECIMAL|NUMERIC)$/.test(name)) return decimal(Math.min(12, numbers[1] ?? 0));
  if (/^(DOUBLE|REAL|FLOAT)$/.test(name)) return floating;
  return { DATE: date, TIMESTAMP: timestamp, BOOLEAN: yesno }[name] ?? null;
}

/**
 * A value as another type (CAST). Text that cannot be read as the type gives an empty value; digits that the type
 * does not keep are rounded half away from zero. A column as a text has its values that do not fit as they are stored.
 * @returns null where one type cannot become the other
 */
export function cast(expr: Expr, to: ValueType): Expr | null {
  const from = expr.type;
  // A text column whose values are not all texts: those that are not are one as they are stored.
  if (from.kind === "text" && to.kind === "text" && expr.node === "field" && expr.guarded) return call("toText", [expr], to);
  if (from.kind === to.kind && scaleOf(from) === scaleOf(to)) return expr;
  if (to.kind === "text") return asText(expr);
  if (from.kind === "text") return call("fromText", [expr], to);
  if (isNumber(from) && isNumber(to)) {
    if (to.kind === "floating") return call("toFloating", [expr], to);
    return from.kind === "floating" ? call("fromFloating", [expr], to) : toScale(expr, scaleOf(to));
  }
  if (from.kind === "yesno" && to.kind === "whole") return call("case", [call("isTrue", [expr], yesno), ONE, call("isNotNull", [expr], yesno), ZERO], whole);
  if (isDated(from) && to.kind === "date") return { node: "period", part: "day", of: expr, type: date };
  if (from.kind === "date" && to.kind === "timestamp") return call("atMidnight", [expr], timestamp);
  return null;
}
