import type { DatePart, ExtractPart } from "../../types/date";
import { type Dialect, quoted } from "./dialect";

const magnitude = (scale: number) => 10 ** scale;

/** A text that is a timestamp of a day that there is, with or without an offset from UTC. */
export const IS_TIMESTAMP = (column: string): string =>
  `typeof(${column}) = 'text' AND length(${column}) >= 16 AND datetime(${column}) IS NOT NULL AND substr(datetime(substr(${column}, 1, 19), '+0 days'), 1, 10) = substr(${column}, 1, 10)`;

/** A timestamp in the ledger's own form: "2026-11-03 14:05:00". */
export const IS_PLAIN_TIMESTAMP = (column: string): string => `length(${column}) = 19 AND ${column} GLOB '????-??-?? ??:??:??'`;

/** A written timestamp as one instant: a T is a blank, an offset is taken to UTC, fractions without zeros at their end. */
const instantOf = (column: string): string => `rtrim(rtrim(strftime('%Y-%m-%d %H:%M:%f', ${column}), '0'), '.')`;

/** What surely fits 64 bits, as a floating number. */
const LARGEST = 9.2e18;

const PERIOD: Record<DatePart, (dated: string) => string> = {
  year: (d) => `substr(${d}, 1, 4) || '-01-01'`,
  quarter: (d) =>
    `substr(${d}, 1, 5) || CASE WHEN substr(${d}, 6, 2) < '04' THEN '01' WHEN substr(${d}, 6, 2) < '07' THEN '04' WHEN substr(${d}, 6, 2) < '10' THEN '07' ELSE '10' END || '-01'`,
  month: (d) => `substr(${d}, 1, 7) || '-01'`,
  isoWeek: (d) => `date(${d}, '-6 days', 'weekday 1')`,
  day: (d) => `substr(${d}, 1, 10)`,
};

const EXTRACT: Record<ExtractPart, (dated: string) => string> = {
  YEAR: (d) => `CAST(substr(${d}, 1, 4) AS INTEGER)`,
  QUARTER: (d) => `((CAST(substr(${d}, 6, 2) AS INTEGER) + 2) / 3)`,
  MONTH: (d) => `CAST(substr(${d}, 6, 2) AS INTEGER)`,
  WEEK: (d) => `CAST(strftime('%V', ${d}) AS INTEGER)`,
  DAY: (d) => `CAST(substr(${d}, 9, 2) AS INTEGER)`,
  DOW: (d) => `CAST(strftime('%u', ${d}) AS INTEGER)`,
  HOUR: (d) => `CAST(strftime('%H', ${d}) AS INTEGER)`,
  MINUTE: (d) => `CAST(strftime('%M', ${d}) AS INTEGER)`,
};

/**
 * SQLite. The functions nl_… are registered by the engine on each connection (server/source/sqlite/functions.ts):
 * SQLite's own know only ASCII, and it cannot read digits as a scaled integer without floating point.
 */
export const sqlite: Dialect = {
  name: "sqlite",
  table: quoted,
  placeholder: (position) => `@p${position}`,
  read(column, type, storage) {
    if (storage === "written") return instantOf(column);
    if (type.kind !== "decimal") return column;
    const by = magnitude(type.scale);
    if (storage === "digits") return `nl_scaled(${column}, ${type.scale})`;
    if (storage !== "real") return column;
    return `CASE typeof(${column}) WHEN 'integer' THEN ${column} * ${by} ELSE CAST(ROUND(${column} * ${by}.0) AS INTEGER) END`;
  },
  readFitting(column, type, storage) {
    const when = (test: string, value = column) => `CASE WHEN ${test} THEN ${value} END`;
    switch (type.kind) {
      case "text":
        return when(`typeof(${column}) = 'text'`);
      case "whole":
        return when(`typeof(${column}) = 'integer'`);
      case "floating":
        return when(`typeof(${column}) IN ('integer', 'real')`);
      case "yesno":
        return when(`${column} IN (0, 1)`);
      case "date":
        return when(`typeof(${column}) = 'text' AND length(${column}) = 10 AND date(${column}, '+0 days') = ${column}`);
      case "timestamp":
        return when(IS_TIMESTAMP(column), this.read(column, type, storage));
      case "decimal": {
        const by = `${magnitude(type.scale)}.0`;
        if (storage === "digits") return `nl_scaled(${column}, ${type.scale})`;
        if (storage !== "real") return when(`typeof(${column}) = 'integer'`);
        // What its scale would take beyond 64 bits does not fit; floating numbers there have no digits after the point left.
        const small = `${column} BETWEEN -${LARGEST / magnitude(type.scale)} AND ${LARGEST / magnitude(type.scale)}`;
        const fits = `${small} AND (typeof(${column}) = 'integer' OR (typeof(${column}) = 'real' AND abs(${column} * ${by} - ROUND(${column} * ${by})) < 1e-4))`;
        return when(fits, this.read(column, type, storage));
      }
      default:
        return type satisfies never;
    }
  },
  stored: (alias, column) => `CAST(${quoted(alias)}.${quoted(column)} AS TEXT)`,
  divideRounded: (n, d, digits) => `nl_quotient(${n}, ${d}, ${digits})`,
  divideCarried: (n, d, digits) => `nl_carried(${n}, ${d}, ${digits})`,
  checked: (exact) => `nl_exact(${exact})`,
  notTooMany: (count) => `nl_not_too_many(${count})`,
  toFloating: (exact, scale) => (scale === 0 ? `CAST(${exact} AS REAL)` : `(${exact} / ${magnitude(scale)}.0)`),
  decimalText: (exact, scale) =>
    scale === 0
      ? `CAST(${exact} AS TEXT)`
      : `CASE WHEN ${exact} < 0 THEN '-' ELSE '' END || CAST(abs(${exact}) / ${magnitude(scale)} AS TEXT) || '.' || substr('${"0".repeat(scale)}' || CAST(abs(${exact}) % ${magnitude(scale)} AS TEXT), -${scale})`,
  periodStart: (dated, part) => `(${PERIOD[part](dated)})`,
  fold: (text) => `nl_fold(${text})`,
  upper: (text) => `nl_upper(${text})`,
  lower: (text) => `nl_lower(${text})`,
  initcap: (text) => `nl_initcap(${text})`,
  lpad: (text, length, fill) => `nl_lpad(${text}, ${length}, ${fill})`,
  splitPart: (text, separator, n) => `nl_split_part(${text}, ${separator}, ${n})`,
  splitRest: (text, separator, n) => `nl_split_rest(${text}, ${separator}, ${n})`,
  position: (part, text) => `instr(${text}, ${part})`,
  substring: (text, start, count) => `substr(${text}, ${start}, ${count})`,
  fromText: (text, type) => `nl_read_${type.kind}(${text}${type.kind === "decimal" ? `, ${type.scale}` : ""})`,
  fromFloating: (floating, scale) => `nl_from_floating(${floating}, ${scale})`,
  quotient: (n, d) => `(${n} / ${d})`,
  extract: (part, dated) => EXTRACT[part](dated),
  shift: (dated, by, unit, type) =>
    `${type.kind === "date" ? "date" : "datetime"}(${dated}, CAST(${by} AS TEXT) || ' ${unit.toLowerCase()}s'${unit === "MONTH" ? ", 'floor'" : ""})`,
  daysBetween: (later, earlier) => `CAST(julianday(${later}) - julianday(${earlier}) AS INTEGER)`,
  minutesBetween: (later, earlier) => `((unixepoch(${later}) - unixepoch(${earlier})) / 60)`,
  list: (value, separator, order) => `group_concat(${value}, ${separator} ORDER BY ${order})`,
  firstBy: (value, order) => `json_extract(json_group_array(${value} ORDER BY ${order}) FILTER (WHERE ${value} IS NOT NULL), '$[0]')`,
  nthBy: (value, order, n) => `json_extract(json_group_array(${value} ORDER BY ${order}) FILTER (WHERE ${value} IS NOT NULL), '$[${n - 1}]')`,
  listOf: (value, separator, order, count) =>
    `nl_list_of(json_group_array(${value} ORDER BY ${order}) FILTER (WHERE ${value} IS NOT NULL), ${separator}, ${count})`,
  textType: "TEXT",
  percentileExact: (exact, percent) => `nl_percentile(${exact}, ${percent})`,
  percentileFloating: (floating, percent) => `nl_percentile_floating(${floating}, ${percent})`,
  mode: (value) => `nl_mode(${value})`,
  spread: (floating, of, sample) => `${of === "deviation" ? "sqrt" : ""}(nl_variance(${floating}, ${sample ? 1 : 0}))`,
  isTrue: (condition) => `(${condition} IS TRUE)`,
  anyOf: (truth) => `MAX(${truth})`,
  allOf: (truth) => `MIN(${truth})`,
  medianTenths: (exact) => `nl_median_tenths(${exact})`,
  sumOnce: (value, keys, type) => `nl_sum_once(${type.kind === "floating" ? `CAST(${value} AS REAL)` : value}, ${keys.join(", ")})`,
  countOnce: (keys) => (keys.length === 1 ? `COUNT(DISTINCT ${keys[0]})` : `nl_count_once(${keys.join(", ")})`),
  textMatch: (place, text, part) =>
    ({
      contains: `instr(${text}, ${part}) > 0`,
      beginsWith: `substr(${text}, 1, length(${part})) = ${part}`,
      endsWith: `substr(${text}, length(${text}) - length(${part}) + 1) = ${part}`,
    })[place],
  like: (text, pattern) => `nl_like(${text}, ${pattern})`,
  regexp: (text, pattern) => `nl_regexp(${text}, ${pattern})`,
  groupDigits: (digits) => `nl_group_digits(${digits})`,
  orderBy: (expression, direction) => `${expression} ${direction === "up" ? "ASC" : "DESC"}`,
};
