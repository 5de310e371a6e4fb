import { carriedTo, decimal, digitsOf, isCarried, isDated, isNumber, scaleOf, text, type ValueType, whole } from "../types/valueType";
import type { Dialect } from "./dialect/dialect";

/**
 * One record per figure. Pickers, the type check, the compiler and the footings all read this table;
 * adding a figure is adding an entry here and its name to AGGREGATE_NAMES.
 */
export const AGGREGATE_NAMES = ["count", "countDifferent", "total", "average", "median", "least", "greatest", "first", "last", "list"] as const;
export type AggregateName = (typeof AGGREGATE_NAMES)[number];

export type Aggregate = {
  /** As in "total of freight charge". */
  words: string;
  help: string;
  takes: (type: ValueType) => boolean;
  gives: (type: ValueType) => ValueType;
  /** True where the figures of parts add up to the figure of the whole. */
  addsUp: boolean;
  /** How figures over parts make the figure over the whole; a figure without it goes back to the rows. */
  merges?: "add" | "least" | "greatest";
  /** Whether an order belongs to it: which row is first, or how a list runs. */
  order?: "needed" | "possible";
  /** SQL over an operand. Empty values never take part. */
  sql: (operand: string, given: Given) => string;
};

/** What the SQL of a figure depends on besides its operand: SQL of the order, and the separator as a bound value. */
export type Given = { type: ValueType; dialect: Dialect; by: string | null; direction: "up" | "down"; separator: string };

/** The first in an order, among the rows that have a value there; where several are first, the least value. */
function firstIn(operand: string, { by, direction, dialect }: Given, turned: boolean): string {
  const way = (direction === "down") !== turned ? "DESC" : "ASC";
  return dialect.firstBy(`CASE WHEN ${by} IS NOT NULL THEN ${operand} END`, `${by} ${way}, ${operand}`);
}

/** Digits an average carries beyond those of its values. */
const AVERAGE_EXTRA_DIGITS = 4;

/** The digits that are written of an average: more than of its values, unless those come of a division themselves. */
const averageDigits = (type: ValueType): number => digitsOf(type) + (isCarried(type) ? 0 : AVERAGE_EXTRA_DIGITS);

/** By how many digits the sum is shifted before it is divided, to come to the average's scale. */
export const averageShift = (type: ValueType): number => averageDigits(type) + 1 - scaleOf(type);

const any = () => true;

export const AGGREGATES: Record<AggregateName, Aggregate> = {
  count: {
    words: "count",
    help: "Number of rows with a value: 4, 4, empty → 2.",
    takes: any,
    gives: () => whole,
    addsUp: true,
    merges: "add",
    sql: (operand) => `COUNT(${operand})`,
  },
  countDifferent: {
    words: "distinct count",
    help: "Number of different values, empty ones not counted: 4, 4, 7 → 2.",
    takes: any,
    gives: () => whole,
    addsUp: false,
    sql: (operand) => `COUNT(DISTINCT ${operand})`,
  },
  total: {
    words: "total",
    help: "The sum, exact for whole numbers and decimals; empty if there are no values: 4, 4, 7 → 15.",
    takes: isNumber,
    gives: (type) => type,
    addsUp: true,
    merges: "add",
    sql: (operand) => `SUM(${operand})`,
  },
  average: {
    words: "average",
    help: "The total divided by the number of values: 4, 4, 7 → 5.",
    takes: isNumber,
    gives: (type) => (type.kind === "floating" ? type : carriedTo(averageDigits(type))),
    addsUp: false,
    sql: (operand, { type, dialect }) =>
      type.kind === "floating" ? `AVG(${operand})` : dialect.divideCarried(`SUM(${operand})`, `NULLIF(COUNT(${operand}), 0)`, averageShift(type)),
  },
  median: {
    words: "median",
    help: "The middle value; for an even number of values, the average of the two in the middle: 4, 4, 7 → 4.",
    takes: isNumber,
    gives: (type) => (type.kind === "floating" ? type : decimal(scaleOf(type) + 1)),
    addsUp: false,
    sql: (operand, { type, dialect }) =>
      type.kind !== "floating"
        ? dialect.medianTenths(operand)
        : dialect.name === "postgres"
          ? `percentile_cont(0.5) WITHIN GROUP (ORDER BY ${operand})`
          : `median(${operand})`,
  },
  least: {
    words: "minimum",
    help: "The smallest value, or the earliest date: 4, 4, 7 → 4.",
    takes: (type) => type.kind !== "yesno",
    gives: (type) => type,
    addsUp: false,
    merges: "least",
    sql: (operand) => `MIN(${operand})`,
  },
  greatest: {
    words: "maximum",
    help: "The largest value, or the latest date: 4, 4, 7 → 7.",
    takes: (type) => type.kind !== "yesno",
    gives: (type) => type,
    addsUp: false,
    merges: "greatest",
    sql: (operand) => `MAX(${operand})`,
  },
  first: {
    words: "first",
    help: "The value in the row that comes first by another field: the first price, by date.",
    takes: any,
    gives: (type) => type,
    addsUp: false,
    order: "needed",
    sql: (operand, given) => firstIn(operand, given, false),
  },
  last: {
    words: "last",
    help: "The value in the row that comes last by another field: the last price, by date.",
    takes: any,
    gives: (type) => type,
    addsUp: false,
    order: "needed",
    sql: (operand, given) => firstIn(operand, given, true),
  },
  list: {
    words: "list",
    help: "The values as one text, sorted, with a separator: Pell, Skarrow.",
    takes: any,
    gives: () => text,
    addsUp: false,
    order: "possible",
    sql: (operand, { by, direction, separator, dialect }) =>
      dialect.list(operand, separator, [...(by ? [dialect.orderBy(by, direction)] : []), dialect.orderBy(operand, "up")].join(", ")),
  },
};

/** The figures that need nothing but a field. */
export const PLAIN_FIGURES = AGGREGATE_NAMES.filter((name) => AGGREGATES[name].order !== "needed");

/** The figure a column is offered first when rows are grouped. */
export const firstFigure = (type: ValueType): AggregateName => (isNumber(type) ? "total" : isDated(type) ? "greatest" : "countDifferent");
