import { decimal, isDated, isNumber, scaleOf, type ValueType, whole } from "../types/valueType";
import type { Dialect } from "./dialect/dialect";

/**
 * One record per figure. Pickers, the type check, the compiler and the footings all read this table;
 * adding a figure is adding an entry here and its name to AGGREGATE_NAMES.
 */
export const AGGREGATE_NAMES = ["count", "countDifferent", "total", "average", "least", "greatest"] as const;
export type AggregateName = (typeof AGGREGATE_NAMES)[number];

export type Aggregate = {
  /** As in "total of freight charge". */
  words: string;
  help: string;
  takes: (type: ValueType) => boolean;
  gives: (type: ValueType) => ValueType;
  /** True where the figures of parts add up to the figure of the whole. */
  addsUp: boolean;
  /** SQL over an operand. Empty values never take part. */
  sql: (operand: string, type: ValueType, dialect: Dialect) => string;
};

/** Digits an average carries beyond those of its values. */
export const AVERAGE_EXTRA_DIGITS = 4;

const any = () => true;

export const AGGREGATES: Record<AggregateName, Aggregate> = {
  count: {
    words: "count",
    help: "How many rows have a value here.",
    takes: any,
    gives: () => whole,
    addsUp: true,
    sql: (operand) => `COUNT(${operand})`,
  },
  countDifferent: {
    words: "count of different",
    help: "How many different values there are. Empty ones are not counted.",
    takes: any,
    gives: () => whole,
    addsUp: false,
    sql: (operand) => `COUNT(DISTINCT ${operand})`,
  },
  total: {
    words: "total",
    help: "The sum, exact for whole numbers and decimals; empty where there is no value.",
    takes: isNumber,
    gives: (type) => type,
    addsUp: true,
    sql: (operand) => `SUM(${operand})`,
  },
  average: {
    words: "average",
    help: "The total divided by the count of values, rounded half away from zero.",
    takes: isNumber,
    gives: (type) => (type.kind === "floating" ? type : decimal(scaleOf(type) + AVERAGE_EXTRA_DIGITS)),
    addsUp: false,
    sql: (operand, type, dialect) =>
      type.kind === "floating" ? `AVG(${operand})` : dialect.divideRounded(`SUM(${operand}) * ${10 ** AVERAGE_EXTRA_DIGITS}`, `NULLIF(COUNT(${operand}), 0)`),
  },
  least: {
    words: "least",
    help: "The smallest value, or the earliest date.",
    takes: (type) => type.kind !== "yesno",
    gives: (type) => type,
    addsUp: false,
    sql: (operand) => `MIN(${operand})`,
  },
  greatest: {
    words: "greatest",
    help: "The largest value, or the latest date.",
    takes: (type) => type.kind !== "yesno",
    gives: (type) => type,
    addsUp: false,
    sql: (operand) => `MAX(${operand})`,
  },
};

/** The figure a column is offered first when rows are grouped. */
export const firstFigure = (type: ValueType): AggregateName => (isNumber(type) ? "total" : isDated(type) ? "greatest" : "countDifferent");
