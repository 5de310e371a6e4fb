import type { DatePart } from "../../types/date";
import type { Storage } from "../../types/storage";
import { scaleOf, type ValueType } from "../../types/valueType";
import { bareLetters, type Dialect, quoted } from "./dialect";
import { qualified } from "./tableName";

const TYPES: Record<ValueType["kind"], string> = {
  text: "text",
  whole: "bigint",
  decimal: "bigint",
  floating: "double precision",
  date: "date",
  timestamp: "timestamp",
  yesno: "boolean",
};
const UNIT: Record<DatePart, string> = { year: "year", quarter: "quarter", month: "month", isoWeek: "week", day: "day" };

/** A stored column as the value its type says. Text is compared by code point, as SQLite does. */
function read(column: string, type: ValueType, storage: Storage): string {
  switch (storage) {
    case "small":
      return `CAST(${column} AS bigint)`;
    case "numeric":
      return `CAST(${scaleOf(type) === 0 ? column : `${column} * ${10 ** scaleOf(type)}`} AS bigint)`;
    case "zoned":
      return `CAST(${column} AS timestamp)`;
    // Of a type of its own, a text would be read otherwise in a function than where rows are grouped by it.
    case "collated":
    case "cast":
      return `(CAST(${column} AS text) COLLATE "C")`;
    case "size":
      return `(CAST(octet_length(${column}) AS text) || ' bytes')`;
    default:
      return column;
  }
}

/** Collations by which a server knows all letters: for the case of a text, and for that of its words. */
export type Letters = { text: string; words: string };

/** PostgreSQL from release 17 on has a collation of Unicode's own. */
const BUILT_IN: Letters = { text: "pg_c_utf8", words: "pg_c_utf8" };

/** PostgreSQL, by the collations a server has. */
export const postgresOf = ({ text: byText, words: byWords }: Letters): Dialect => ({
  name: "postgres",
  table: qualified,
  placeholder: (position, type) => `CAST($${position} AS ${TYPES[type.kind]})`,
  read,
  readFitting: read,
  bare: (column, type, storage) => (storage === "small" ? column : read(column, type, storage)),
  stored: (alias, column) => `CAST(${quoted(alias)}.${quoted(column)} AS TEXT)`,
  divideRounded: (dividend, d, digits) => {
    const n = digits === 0 ? dividend : `(CAST(${dividend} AS numeric) * ${10 ** digits})`;
    return `(CASE WHEN (${n} < 0) = (${d} < 0) THEN 1 ELSE -1 END * div(CAST(2 * abs(${n}) + abs(${d}) AS numeric), CAST(2 * abs(${d}) AS numeric)))`;
  },
  divideCarried: (dividend, d, digits) => `div(CAST(${dividend} AS numeric) * ${10 ** digits}, ${d})`,
  toFloating: (exact, scale) => `(CAST(${exact} AS double precision) / ${10 ** scale})`,
  decimalText: (exact, scale) =>
    scale === 0
      ? `CAST(${exact} AS text)`
      : `CASE WHEN ${exact} < 0 THEN '-' ELSE '' END || CAST(div(abs(${exact}), ${10 ** scale}) AS text) || '.' || lpad(CAST(mod(abs(${exact}), ${10 ** scale}) AS text), ${scale}, '0')`,
  periodStart: (dated, part) => `CAST(date_trunc('${UNIT[part]}', ${dated}) AS date)`,
  fold: (text) => bareLetters(`regexp_replace(normalize(lower(${text} COLLATE ${quoted(byText)}), NFD), '[\u0300-\u036f]', '', 'g')`),
  // By all letters of Unicode; what comes of it is compared by code point, as any other text.
  upper: (text) => `(upper(${text} COLLATE ${quoted(byText)}) COLLATE "C")`,
  lower: (text) => `(lower(${text} COLLATE ${quoted(byText)}) COLLATE "C")`,
  initcap: (text) => `(initcap(${text} COLLATE ${quoted(byWords)}) COLLATE "C")`,
  lpad: (text, length, fill) => `lpad(${text}, CAST(${length} AS integer), ${fill})`,
  splitPart: (text, separator, n) => `NULLIF(split_part(${text}, ${separator}, CAST(${n} AS integer)), '')`,
  splitRest: (text, separator, n) => `NULLIF(array_to_string((string_to_array(${text}, ${separator}))[${n}:], ${separator}), '')`,
  position: (part, text) => `strpos(${text}, ${part})`,
  substring: (text, start, count) => `substr(${text}, CAST(${start} AS integer), CAST(${count} AS integer))`,
  fromText: (text, type) => {
    const when = (pattern: string, value: string) => `CASE WHEN trim(${text}) ~ '^${pattern}$' THEN ${value} END`;
    if (type.kind === "whole" || type.kind === "decimal") {
      const scale = type.kind === "decimal" ? type.scale : 0;
      return when("[+-]?([0-9]+[.]?[0-9]*|[.][0-9]+)", `CAST(round(CAST(trim(${text}) AS numeric), ${scale}) * ${10 ** scale} AS bigint)`);
    }
    if (type.kind === "yesno") return `CASE lower(trim(${text})) WHEN 'yes' THEN TRUE WHEN 'no' THEN FALSE END`;
    if (type.kind === "floating") return when("[+-]?([0-9]+[.]?[0-9]*|[.][0-9]+)([eE][+-]?[0-9]+)?", `CAST(trim(${text}) AS double precision)`);
    return when(type.kind === "date" ? "[0-9]{4}-[0-9]{2}-[0-9]{2}" : "[0-9]{4}-[0-9]{2}-[0-9]{2}.*", `CAST(${text} AS ${TYPES[type.kind]})`);
  },
  fromFloating: (floating, scale) => `CAST(round(CAST(${floating} * ${10 ** scale} AS numeric)) AS bigint)`,
  quotient: (n, d) => `div(CAST(${n} AS numeric), ${d})`,
  extract: (part, dated) => `CAST(floor(extract(${part === "DOW" ? "isodow" : part} FROM ${dated})) AS bigint)`,
  shift: (dated, by, unit, type) => `CAST(${dated} + CAST(${by} AS integer) * interval '1 ${unit.toLowerCase()}' AS ${TYPES[type.kind]})`,
  daysBetween: (later, earlier) => `CAST(${later} - ${earlier} AS bigint)`,
  minutesBetween: (later, earlier) => `CAST(trunc(EXTRACT(EPOCH FROM (${later} - ${earlier})) / 60) AS bigint)`,
  list: (value, separator, order) => `string_agg(${value}, ${separator} ORDER BY ${order})`,
  firstBy: (value, order) => `(array_agg(${value} ORDER BY ${order}) FILTER (WHERE ${value} IS NOT NULL))[1]`,
  nthBy: (value, order, n) => `(array_agg(${value} ORDER BY ${order}) FILTER (WHERE ${value} IS NOT NULL))[${n}]`,
  listOf: (value, separator, order, count) =>
    `array_to_string((array_agg(${value} ORDER BY ${order}) FILTER (WHERE ${value} IS NOT NULL))[:${count}], ${separator})`,
  textType: "text",
  medianTenths: (exact) => {
    const sorted = `(array_agg(${exact} ORDER BY ${exact}) FILTER (WHERE ${exact} IS NOT NULL))`;
    const count = `CAST(COUNT(${exact}) AS integer)`;
    return `((${sorted}[(${count} + 1) / 2] + ${sorted}[${count} / 2 + 1]) * 5)`;
  },
  percentileExact: (exact, percent) => {
    const sorted = `(array_agg(CAST(${exact} AS numeric) ORDER BY ${exact}) FILTER (WHERE ${exact} IS NOT NULL))`;
    const at = `(CAST(COUNT(${exact}) AS integer) - 1) * ${percent}`;
    const low = `${sorted}[${at} / 10000 + 1]`;
    return `(${low} * 10000 + (${sorted}[LEAST(${at} / 10000 + 2, CAST(COUNT(${exact}) AS integer))] - ${low}) * (${at} % 10000))`;
  },
  percentileFloating: (floating, percent) => `percentile_cont(${percent / 10000}) WITHIN GROUP (ORDER BY ${floating})`,
  mode: (value) => `mode() WITHIN GROUP (ORDER BY ${value})`,
  spread: (floating, of, sample) => {
    const spread = `${of === "deviation" ? "stddev" : "var"}_${sample ? "samp" : "pop"}(${floating})`;
    // Of values that are all the same its last digits would be left over.
    return `(CASE WHEN MIN(${floating}) = MAX(${floating}) THEN 0 * ${spread} ELSE ${spread} END)`;
  },
  // As IS TRUE, which is not passed on to other servers (postgres_fdw of release 15).
  isTrue: (condition) => `(${condition} IS NOT DISTINCT FROM TRUE)`,
  anyOf: (truth) => `bool_or(${truth})`,
  allOf: (truth) => `bool_and(${truth})`,
  sumOnce: (value, keys, type) => {
    const told = keys.map((key) => `CAST(${key} AS text)`);
    const rows = `jsonb_agg(DISTINCT jsonb_build_array(jsonb_build_array(${told.join(", ")}), ${value})) FILTER (WHERE ${value} IS NOT NULL AND COALESCE(${told.join(", ")}) IS NOT NULL)`;
    return `(SELECT SUM(CAST(e ->> 1 AS ${type.kind === "floating" ? "double precision" : "numeric"})) FROM jsonb_array_elements(${rows}) AS e)`;
  },
  countOnce: (keys) => {
    const told = keys.map((key) => `CAST(${key} AS text)`);
    return `COUNT(DISTINCT CASE WHEN COALESCE(${told.join(", ")}) IS NOT NULL THEN ARRAY[${told.join(", ")}] END)`;
  },
  textMatch: (place, text, part) =>
    ({
      contains: `position(${part} IN ${text}) > 0`,
      beginsWith: `starts_with(${text}, ${part})`,
      endsWith: `right(${text}, length(${part})) = ${part}`,
    })[place],
  like: (text, pattern) => `(${text} LIKE ${pattern} ESCAPE '\\')`,
  regexp: (text, pattern) => `(${text} ~ ${pattern})`,
  groupDigits: (digits) => `reverse(rtrim(regexp_replace(reverse(${digits}), '([0-9]{3})', '\\1,', 'g'), ','))`,
  // An index has empty values at its other end: it serves where there are none.
  orderBy: (expression, direction, filled) =>
    filled ? `${expression} ${direction === "up" ? "ASC" : "DESC"}` : `${expression} ${direction === "up" ? "ASC NULLS FIRST" : "DESC NULLS LAST"}`,
});

/** With its own collation of Unicode: the second independent check. */
export const postgres = postgresOf(BUILT_IN);
