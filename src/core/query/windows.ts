import type { DatePart } from "../types/date";
import { carriedTo, isDated, isExact, isNumber, type ValueType, whole } from "../types/valueType";
import { AGGREGATES, averageShift, SHARE_DIGITS } from "./aggregates";
import type { BackName, WindowName } from "./choices";
import type { Dialect } from "./dialect/dialect";
import type { QueryColumn } from "./spec";

/*
 * What a column is worked out to from the rows beside it, once they are there: a running total, a share, a rank, a
 * change on the period before. Pickers, the type check and the compiler read this table; the recount has its own
 * (recount/windows.ts).
 */

export type WindowRecord = {
  /** As in "running total of freight". */
  words: string;
  help: string;
  /** Of which values; null where it is of the rows alone. */
  takes: ((type: ValueType) => boolean) | null;
  gives: (type: ValueType) => ValueType;
  /** Whether the order of the rows decides. */
  ordered: boolean;
  /** Whether it looks back: at the row before, or a period. */
  back?: true;
  /** What its number says: over how many rows it is taken, or how many parts it makes. */
  rows?: "over" | "parts";
  /** Whether it is a part of one, shown as a percentage. */
  part?: true;
};

const share = (): ValueType => carriedTo(SHARE_DIGITS);
const same = (type: ValueType): ValueType => type;

export const WINDOWS: Record<WindowName, WindowRecord> = {
  running: { words: "running total", help: "The total up to this row.", takes: isNumber, gives: same, ordered: true },
  share: {
    words: "share of total",
    help: "The part it is of the total of all rows.",
    takes: isNumber,
    gives: (t) => (isExact(t) ? share() : t),
    ordered: false,
    part: true,
  },
  rank: { words: "rank", help: "Its place by size; equal values share one.", takes: (t) => isNumber(t) || isDated(t), gives: () => whole, ordered: false },
  quantile: {
    words: "quantile",
    help: "Rows by size in parts of equal count, numbered from 1: quartiles, deciles.",
    takes: (t) => isNumber(t) || isDated(t),
    gives: () => whole,
    ordered: false,
    rows: "parts",
  },
  number: { words: "row number", help: "The number of the row, from 1.", takes: null, gives: () => whole, ordered: true },
  difference: { words: "difference", help: "Its value less the one before.", takes: isNumber, gives: same, ordered: true, back: true },
  change: {
    words: "change",
    help: "The difference as a part of the value before, whatever its sign.",
    takes: isNumber,
    gives: (t) => (isExact(t) ? share() : t),
    ordered: true,
    back: true,
    part: true,
  },
  moving: {
    words: "moving average",
    help: "The average of this row and those before it.",
    takes: isNumber,
    gives: AGGREGATES.average.gives,
    ordered: true,
    rows: "over",
  },
  total: { words: "total", help: "The total of all rows, beside each of them.", takes: isNumber, gives: same, ordered: false },
  average: { words: "average", help: "The average of all rows, beside each of them.", takes: isNumber, gives: AGGREGATES.average.gives, ordered: false },
  least: { words: "minimum", help: "The least of all rows, beside each of them.", takes: (t) => isNumber(t) || isDated(t), gives: same, ordered: false },
  greatest: { words: "maximum", help: "The greatest of all rows, beside each of them.", takes: (t) => isNumber(t) || isDated(t), gives: same, ordered: false },
};

/** Whether the values of a query's column are shown as percentages. */
export const showsPercent = ({ format, window }: Pick<QueryColumn, "format" | "window">): boolean =>
  format?.percent ?? (window !== undefined && WINDOWS[window.kind].part === true);

/** How a sentence says what a difference is taken from. */
export const BACK_WORDS: Record<BackName, string> = { row: "on the previous row", period: "on the previous period", year: "on a year earlier" };

/** The same as a choice. */
export const BACK_CHOICES: Record<BackName, string> = { row: "previous row", period: "previous period", year: "a year earlier" };

/** The period a difference looks back by: by which column's dates, and how far. */
export type PlanPeriod = { column: string; part: DatePart; steps: number };

/** How far a year is in each part of a date; null where no number of them makes one. Weeks: the same weekday, 52 weeks before. */
export const YEAR_STEPS: Record<DatePart, number | null> = { year: 1, quarter: 4, month: 12, isoWeek: 52, day: null };

/** What the SQL of a window depends on: SQL of its value, of what parts the rows, of their order, and of the period before. */
export type WindowGiven = {
  value: string;
  type: ValueType;
  dialect: Dialect;
  /** "PARTITION BY …", or nothing. */
  parted: string;
  /** "ORDER BY …" of the rows. */
  order: string;
  direction: "up" | "down";
  rows: number;
  /** Of a look back by periods: a number for each period, and how many of them back; null by rows. */
  period: { index: string; back: number; parted: string } | null;
};

const over = (given: Pick<WindowGiven, "parted">, more = ""): string => `OVER (${[given.parted, more].filter(Boolean).join(" ")})`;

const divided = (dividend: string, divisor: string, type: ValueType, dialect: Dialect): string =>
  isExact(type) ? dialect.divideCarried(dividend, `NULLIF(${divisor}, 0)`, SHARE_DIGITS + 1) : `(${dividend} / NULLIF(${divisor}, 0))`;

/** The value a look back finds: of the period so far back, which may have no row, or of the row before. */
function before({ value, period, order, ...given }: WindowGiven): string {
  if (period === null) return `LAG(${value}) ${over(given, order)}`;
  const found = `SUM(${value}) ${over(period, `ORDER BY ${period.index} RANGE BETWEEN ${period.back} PRECEDING AND ${period.back} PRECEDING`)}`;
  return `CASE WHEN ${period.index} IS NOT NULL THEN ${found} END`;
}

const averaged = ({ value, type, dialect }: WindowGiven, frame: string): string =>
  type.kind === "floating"
    ? `AVG(${value}) ${frame}`
    : dialect.divideCarried(`SUM(${value}) ${frame}`, `NULLIF(COUNT(${value}) ${frame}, 0)`, averageShift(type));

const SQL: Record<WindowName, (given: WindowGiven) => string> = {
  running: (g) => `SUM(${g.value}) ${over(g, `${g.order} ROWS BETWEEN UNBOUNDED PRECEDING AND CURRENT ROW`)}`,
  share: (g) => divided(g.value, `SUM(${g.value}) ${over(g)}`, g.type, g.dialect),
  rank: (g) => {
    const known = `CASE WHEN ${g.value} IS NULL THEN 1 ELSE 0 END`;
    return `CASE WHEN ${g.value} IS NOT NULL THEN RANK() ${over(g, `ORDER BY ${known}, ${g.value} ${g.direction === "up" ? "ASC" : "DESC"}`)} END`;
  },
  quantile: (g) => {
    const known = `CASE WHEN ${g.value} IS NULL THEN 1 ELSE 0 END`;
    const order = [`${g.value} ${g.direction === "up" ? "ASC" : "DESC"}`, g.order.replace(/^ORDER BY /, "")].filter(Boolean).join(", ");
    const parted = g.parted === "" ? `PARTITION BY ${known}` : `${g.parted}, ${known}`;
    return `CASE WHEN ${g.value} IS NOT NULL THEN NTILE(${Math.trunc(g.rows)}) OVER (${parted} ORDER BY ${order}) END`;
  },
  number: (g) => `ROW_NUMBER() ${over(g, g.order)}`,
  difference: (g) => `(${g.value} - ${before(g)})`,
  change: (g) => divided(`(${g.value} - ${before(g)})`, `abs(${before(g)})`, g.type, g.dialect),
  moving: (g) => averaged(g, over(g, `${g.order} ROWS BETWEEN ${Math.trunc(g.rows) - 1} PRECEDING AND CURRENT ROW`)),
  total: (g) => `SUM(${g.value}) ${over(g)}`,
  average: (g) => averaged(g, over(g)),
  least: (g) => `MIN(${g.value}) ${over(g)}`,
  greatest: (g) => `MAX(${g.value}) ${over(g)}`,
};

export const windowSql = (kind: WindowName, given: WindowGiven): string => SQL[kind](given);
