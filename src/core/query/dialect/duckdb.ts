import type { DatePart } from "../../types/date";
import type { ValueType } from "../../types/valueType";
import type { Dialect } from "./dialect";

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

/** DuckDB, an independent check: the same plan over the same rows must give the same answer. */
export const duckdb: Dialect = {
  name: "duckdb",
  placeholder: (position, type) => `CAST($${position} AS ${TYPES[type.kind]})`,
  read: (column) => column,
  readFitting: (column) => column,
  divideRounded: (n, d) => `(CASE WHEN (${n} < 0) = (${d} < 0) THEN 1 ELSE -1 END * ((2 * abs(${n}) + abs(${d})) // (2 * abs(${d}))))`,
  toFloating: (exact, scale) => `(CAST(${exact} AS DOUBLE) / ${10 ** scale})`,
  decimalText: (exact, scale) =>
    scale === 0
      ? `CAST(${exact} AS VARCHAR)`
      : `CASE WHEN ${exact} < 0 THEN '-' ELSE '' END || CAST(abs(${exact}) // ${10 ** scale} AS VARCHAR) || '.' || lpad(CAST(abs(${exact}) % ${10 ** scale} AS VARCHAR), ${scale}, '0')`,
  periodStart: (dated, part) => `CAST(date_trunc('${UNIT[part]}', ${dated}) AS DATE)`,
  fold: (text) => `strip_accents(lower(${text}))`,
  upper: (text) => `upper(${text})`,
  lower: (text) => `lower(${text})`,
  textMatch: (place, text, part) =>
    ({ contains: `contains(${text}, ${part})`, beginsWith: `starts_with(${text}, ${part})`, endsWith: `ends_with(${text}, ${part})` })[place],
  orderBy: (expression, direction) => `${expression} ${direction === "up" ? "ASC NULLS FIRST" : "DESC NULLS LAST"}`,
};
