import type { DatePart } from "../../types/date";
import type { ValueType } from "../../types/valueType";
import { bareLetters, type Dialect, quoted, storedBeside } from "./dialect";

const TYPES: Record<ValueType["kind"], string> = {
  text: "VARCHAR",
  whole: "BIGINT",
  decimal: "BIGINT",
  floating: "DOUBLE",
  date: "DATE",
  timestamp: "TIMESTAMP",
  yesno: "BOOLEAN",
};
const UNIT: Record<DatePart, string> = { year: "year", quarter: "quarter", month: "month", isoWeek: "week", day: "day" };

/** The values of a group in order, without the empty ones. */
const sortedList = (value: string, known: string): string => `list_sort(list(${value}) FILTER (WHERE ${known} IS NOT NULL))`;

/** DuckDB, an independent check: the same plan over the same rows must give the same answer. */
export const duckdb: Dialect = {
  name: "duckdb",
  table: quoted,
  placeholder: (position, type) => `CAST($${position} AS ${TYPES[type.kind]})`,
  read: (column) => column,
  readFitting: (column) => column,
  stored: (alias, column) => `${quoted(alias)}.${quoted(storedBeside(column))}`,
  divideRounded: (dividend, d, digits) => {
    const n = digits === 0 ? dividend : `(CAST(${dividend} AS HUGEINT) * ${10 ** digits})`;
    return `(CASE WHEN (${n} < 0) = (${d} < 0) THEN 1 ELSE -1 END * ((2 * abs(${n}) + abs(${d})) // (2 * abs(${d}))))`;
  },
  divideCarried: (dividend, d, digits) => `((CAST(${dividend} AS HUGEINT) * ${10 ** digits}) // ${d})`,
  toFloating: (exact, scale) => `(CAST(${exact} AS DOUBLE) / ${10 ** scale})`,
  decimalText: (exact, scale) =>
    scale === 0
      ? `CAST(${exact} AS VARCHAR)`
      : `CASE WHEN ${exact} < 0 THEN '-' ELSE '' END || CAST(abs(${exact}) // ${10 ** scale} AS VARCHAR) || '.' || lpad(CAST(abs(${exact}) % ${10 ** scale} AS VARCHAR), ${scale}, '0')`,
  periodStart: (dated, part) => `CAST(date_trunc('${UNIT[part]}', ${dated}) AS DATE)`,
  fold: (text) => bareLetters(`strip_accents(lower(${text}))`),
  // A ligature has no capital of its own in print.
  upper: (text) => `upper(replace(${text}, 'ß', 'SS'))`,
  lower: (text) => `lower(${text})`,
  initcap: (text) =>
    `array_to_string(list_transform(regexp_extract_all(${text}, '[\\p{L}\\p{N}]+|[^\\p{L}\\p{N}]+'), x -> upper(replace(x[1], 'ß', 'SS')) || lower(x[2:])), '')`,
  lpad: (text, length, fill) => `lpad(${text}, CAST(${length} AS INTEGER), ${fill})`,
  // A separator that is empty would divide nothing here.
  splitPart: (text, separator, n) => `CASE WHEN ${separator} IS NOT NULL THEN NULLIF(string_split(${text}, ${separator})[${n}], '') END`,
  splitRest: (text, separator, n) =>
    `CASE WHEN ${separator} IS NOT NULL THEN NULLIF(array_to_string(string_split(${text}, ${separator})[${n}:], ${separator}), '') END`,
  position: (part, text) => `instr(${text}, ${part})`,
  substring: (text, start, count) => `substring(${text}, ${start}, ${count})`,
  fromText: (text, type) => {
    if (type.kind === "whole" || type.kind === "decimal") {
      const scale = type.kind === "decimal" ? type.scale : 0;
      return `CAST(TRY_CAST(${text} AS DECIMAL(36, ${scale})) * ${10 ** scale} AS BIGINT)`;
    }
    if (type.kind === "yesno") return `CASE lower(trim(${text})) WHEN 'yes' THEN TRUE WHEN 'no' THEN FALSE END`;
    return `TRY_CAST(${text} AS ${TYPES[type.kind]})`;
  },
  fromFloating: (floating, scale) => `CAST(ROUND(${floating} * ${10 ** scale}) AS BIGINT)`,
  quotient: (n, d) => `(${n} // ${d})`,
  extract: (part, dated) => `CAST(extract(${part === "DOW" ? "isodow" : part} FROM ${dated}) AS BIGINT)`,
  shift: (dated, by, unit, type) => `CAST(${dated} + to_${unit.toLowerCase()}s(CAST(${by} AS INTEGER)) AS ${TYPES[type.kind]})`,
  daysBetween: (later, earlier) => `date_diff('day', ${earlier}, ${later})`,
  minutesBetween: (later, earlier) => `CAST(trunc(date_diff('second', ${earlier}, ${later}) / 60) AS BIGINT)`,
  list: (value, separator, order) => `string_agg(${value}, ${separator} ORDER BY ${order})`,
  firstBy: (value, order) => `first(${value} ORDER BY ${order}) FILTER (WHERE ${value} IS NOT NULL)`,
  nthBy: (value, order, n) => `((list(${value} ORDER BY ${order}) FILTER (WHERE ${value} IS NOT NULL))[${n}])`,
  listOf: (value, separator, order, count) =>
    `array_to_string((list(${value} ORDER BY ${order}) FILTER (WHERE ${value} IS NOT NULL))[:${count}], ${separator})`,
  textType: "VARCHAR",
  // The first value that half of them do not pass, and the first that more than half do not: of an even number the two in
  // the middle, else the same twice. No one has so many rows that the difference comes to half a row.
  medianTenths: (exact) => `(list_sum(quantile_disc(${exact}, [0.5, 0.5000000001])) * 5)`,
  // No lambdas: HAVING takes none.
  percentileExact: (exact, percent) => {
    const sorted = sortedList(`CAST(${exact} AS HUGEINT)`, exact);
    const at = `(COUNT(${exact}) - 1) * ${percent}`;
    const low = `${sorted}[${at} // 10000 + 1]`;
    return `(${low} * 10000 + (${sorted}[least(${at} // 10000 + 2, COUNT(${exact}))] - ${low}) * (${at} % 10000))`;
  },
  percentileFloating: (floating, percent) => `quantile_cont(${floating}, ${percent / 10000})`,
  mode: (value) => `mode(${value} ORDER BY ${value})`,
  spread: (floating, of, sample) => `${of === "deviation" ? "stddev" : "var"}_${sample ? "samp" : "pop"}(${floating})`,
  isTrue: (condition) => `(${condition} IS TRUE)`,
  anyOf: (truth) => `bool_or(${truth})`,
  allOf: (truth) => `bool_and(${truth})`,
  sumOnce: (value, keys) => {
    const told = keys.map((key) => `CAST(${key} AS VARCHAR)`);
    const rows = `list(DISTINCT ROW([${told.join(", ")}], ${value})) FILTER (WHERE ${value} IS NOT NULL AND COALESCE(${told.join(", ")}) IS NOT NULL)`;
    return `list_sum(map_values(map_from_entries(${rows})))`;
  },
  countOnce: (keys) => {
    const told = keys.map((key) => `CAST(${key} AS VARCHAR)`);
    return `COUNT(DISTINCT CASE WHEN COALESCE(${told.join(", ")}) IS NOT NULL THEN [${told.join(", ")}] END)`;
  },
  textMatch: (place, text, part) =>
    ({ contains: `contains(${text}, ${part})`, beginsWith: `starts_with(${text}, ${part})`, endsWith: `ends_with(${text}, ${part})` })[place],
  like: (text, pattern) => `(${text} LIKE ${pattern} ESCAPE '\\')`,
  regexp: (text, pattern) => `regexp_matches(${text}, ${pattern})`,
  groupDigits: (digits) => `reverse(rtrim(regexp_replace(reverse(${digits}), '([0-9]{3})', '\\1,', 'g'), ','))`,
  orderBy: (expression, direction) => `${expression} ${direction === "up" ? "ASC NULLS FIRST" : "DESC NULLS LAST"}`,
};
