import type { DatePart } from "../../types/date";
import type { ValueType } from "../../types/valueType";
import type { Dialect } from "./dialect";

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

/** PostgreSQL, the second independent check. Text is compared by code point, as SQLite does. */
export const postgres: Dialect = {
  name: "postgres",
  placeholder: (position, type) => `CAST($${position} AS ${TYPES[type.kind]})`,
  read: (column) => column,
  readFitting: (column) => column,
  divideRounded: (n, d) =>
    `(CASE WHEN (${n} < 0) = (${d} < 0) THEN 1 ELSE -1 END * div(CAST(2 * abs(${n}) + abs(${d}) AS numeric), CAST(2 * abs(${d}) AS numeric)))`,
  toFloating: (exact, scale) => `(CAST(${exact} AS double precision) / ${10 ** scale})`,
  decimalText: (exact, scale) =>
    scale === 0
      ? `CAST(${exact} AS text)`
      : `CASE WHEN ${exact} < 0 THEN '-' ELSE '' END || CAST(div(abs(${exact}), ${10 ** scale}) AS text) || '.' || lpad(CAST(mod(abs(${exact}), ${10 ** scale}) AS text), ${scale}, '0')`,
  periodStart: (dated, part) => `CAST(date_trunc('${UNIT[part]}', ${dated}) AS date)`,
  fold: (text) => `regexp_replace(normalize(lower(${text} COLLATE "pg_c_utf8"), NFD), '[\u0300-\u036f]', '', 'g')`,
  upper: (text) => `upper(${text} COLLATE "pg_c_utf8")`,
  lower: (text) => `lower(${text} COLLATE "pg_c_utf8")`,
  textMatch: (place, text, part) =>
    ({
      contains: `position(${part} IN ${text}) > 0`,
      beginsWith: `starts_with(${text}, ${part})`,
      endsWith: `right(${text}, length(${part})) = ${part}`,
    })[place],
  orderBy: (expression, direction) => `${expression} ${direction === "up" ? "ASC NULLS FIRST" : "DESC NULLS LAST"}`,
};
