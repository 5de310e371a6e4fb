import { carriedTo, decimal, digitsOf, floating, isCarried, isDated, isExact, isNumber, scaleOf, text, type ValueType, whole } from "../types/valueType";
import { AGGREGATE_NAMES, type AggregateName, type FigureName } from "./choices";
import type { Dialect } from "./dialect/dialect";

/*
 * One record per figure. Pickers, formulas, the type check, the compiler and the footings all read this table; adding a
 * figure is adding its name (choices.ts), an entry here and one in the recount (recount/figures.ts).
 */

export type Aggregate = {
  /** As in "total of freight charge". */
  words: string;
  help: string;
  takes: (type: ValueType) => boolean;
  gives: (type: ValueType) => ValueType;
  /** Whether it is of the kind of its values, and so of their unit. */
  keepsUnit?: true;
  /** True where the figures of parts add up to the figure of the whole. */
  addsUp: boolean;
  /** How figures over parts make the figure over the whole; a figure without it goes back to the rows. */
  merges?: "add" | "least" | "greatest";
  /** Whether an order belongs to it: which row is first, or how a list runs. */
  order?: "needed" | "possible";
  /** Whether another field weighs its values. */
  weighs?: true;
  /** Whether it is taken at a percentage. */
  percent?: true;
  /** A whole number from 1 belongs to it: which row in the order it is, or how many values a list has at most. */
  counts?: "which" | "most";
  /** The words a formula writes it by, in capitals: the standard's first. */
  written: readonly string[];
  /** SQL over an operand. Empty values never take part. */
  sql: (operand: string, given: Given) => string;
};

/** What the SQL of a figure depends on besides its operand: SQL of the order, and the separator as a bound value. */
export type Given = {
  type: ValueType;
  dialect: Dialect;
  by: string | null;
  /** Of what weighs the values. */
  byType: ValueType;
  direction: "up" | "down";
  separator: string;
  /** In hundredths of a percent. */
  percent: number;
  /** Which in the order, or how many at most; 0 where nothing is said. */
  count: number;
};

/** Which row in an order is meant where nothing is said: the one after the first. */
export const NTH = 2;

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

/** Digits of a percentile beyond those of its values: its place between two of them is told in hundredths of a percent. */
export const PERCENT_DIGITS = 4;
/** Digits that are written of a share. */
export const SHARE_DIGITS = 6;

/** A figure of how far values lie apart, in floating numbers. @param sample whether the values are a sample of more */
function spread(words: string, help: string, written: readonly string[], of: "deviation" | "variance", sample: boolean): Aggregate {
  return {
    written,
    words,
    help,
    takes: isNumber,
    gives: () => floating,
    ...(of === "deviation" ? { keepsUnit: true } : {}),
    addsUp: false,
    sql: (operand, { type, dialect }) => dialect.spread(type.kind === "floating" ? operand : dialect.toFloating(operand, scaleOf(type)), of, sample),
  };
}

export const AGGREGATES: Record<AggregateName, Aggregate> = {
  count: {
    written: ["COUNT"],
    words: "count",
    help: "Number of rows with a value: 4, 4, empty → 2.",
    takes: any,
    gives: () => whole,
    addsUp: true,
    merges: "add",
    sql: (operand) => `COUNT(${operand})`,
  },
  countDifferent: {
    written: ["COUNT_DISTINCT"],
    words: "distinct count",
    help: "Number of different values, empty ones not counted: 4, 4, 7 → 2.",
    takes: any,
    gives: () => whole,
    addsUp: false,
    sql: (operand) => `COUNT(DISTINCT ${operand})`,
  },
  total: {
    written: ["SUM", "TOTAL"],
    words: "total",
    help: "The sum, exact for whole numbers and decimals; empty if there are no values: 4, 4, 7 → 15.",
    takes: isNumber,
    gives: (type) => type,
    keepsUnit: true,
    addsUp: true,
    merges: "add",
    sql: (operand) => `SUM(${operand})`,
  },
  average: {
    written: ["AVG", "AVERAGE"],
    words: "average",
    help: "The total divided by the number of values: 4, 4, 7 → 5.",
    takes: isNumber,
    gives: (type) => (type.kind === "floating" ? type : carriedTo(averageDigits(type))),
    keepsUnit: true,
    addsUp: false,
    sql: (operand, { type, dialect }) =>
      type.kind === "floating" ? `AVG(${operand})` : dialect.divideCarried(`SUM(${operand})`, `NULLIF(COUNT(${operand}), 0)`, averageShift(type)),
  },
  median: {
    written: ["MEDIAN"],
    words: "median",
    help: "The middle value; for an even number of values, the average of the two in the middle: 4, 4, 7 → 4.",
    takes: isNumber,
    gives: (type) => (type.kind === "floating" ? type : decimal(scaleOf(type) + 1)),
    keepsUnit: true,
    addsUp: false,
    sql: (operand, { type, dialect }) =>
      type.kind !== "floating"
        ? dialect.medianTenths(operand)
        : dialect.name === "postgres"
          ? `percentile_cont(0.5) WITHIN GROUP (ORDER BY ${operand})`
          : `median(${operand})`,
  },
  least: {
    written: ["MIN", "MINIMUM"],
    words: "minimum",
    help: "The smallest value, or the earliest date: 4, 4, 7 → 4.",
    takes: (type) => type.kind !== "yesno",
    gives: (type) => type,
    keepsUnit: true,
    addsUp: false,
    merges: "least",
    sql: (operand) => `MIN(${operand})`,
  },
  greatest: {
    written: ["MAX", "MAXIMUM"],
    words: "maximum",
    help: "The largest value, or the latest date: 4, 4, 7 → 7.",
    takes: (type) => type.kind !== "yesno",
    gives: (type) => type,
    keepsUnit: true,
    addsUp: false,
    merges: "greatest",
    sql: (operand) => `MAX(${operand})`,
  },
  first: {
    written: [],
    words: "first",
    help: "The value in the row that comes first by another field: the first price, by date.",
    takes: any,
    gives: (type) => type,
    keepsUnit: true,
    addsUp: false,
    order: "needed",
    sql: (operand, given) => firstIn(operand, given, false),
  },
  last: {
    written: [],
    words: "last",
    help: "The value in the row that comes last by another field: the last price, by date.",
    takes: any,
    gives: (type) => type,
    keepsUnit: true,
    addsUp: false,
    order: "needed",
    sql: (operand, given) => firstIn(operand, given, true),
  },
  nth: {
    written: [],
    words: "n-th",
    help: "The value in the row with a number in an order, by another field: the second price, by date. Empty if there are fewer rows.",
    takes: any,
    gives: (type) => type,
    keepsUnit: true,
    addsUp: false,
    order: "needed",
    counts: "which",
    sql: (operand, { by, direction, dialect, count }) => {
      const order = `${by} ${direction === "down" ? "DESC" : "ASC"}, ${operand}`;
      return dialect.nthBy(`CASE WHEN ${by} IS NOT NULL THEN ${operand} END`, order, count || NTH);
    },
  },
  weightedAverage: {
    written: ["WEIGHTED_AVERAGE"],
    words: "weighted average",
    help: "The average in which each value counts by another field: 4 weighing 1 and 7 weighing 2 → 6.",
    takes: isNumber,
    gives: (type) => (type.kind === "floating" ? type : carriedTo(averageDigits(type))),
    keepsUnit: true,
    addsUp: false,
    weighs: true,
    sql: (operand, { type, dialect, by, byType }) => {
      const weighed = `CASE WHEN ${operand} IS NOT NULL THEN ${by} END`;
      const product = `(${operand} * ${by})`;
      if (type.kind === "floating") return `(SUM(${product}) / NULLIF(SUM(${weighed}), 0))`;
      // The weight's scale is in both sums, and divides away.
      const checked = dialect.checked && isExact(byType) ? dialect.checked(product) : product;
      return dialect.divideCarried(`SUM(${checked})`, `NULLIF(SUM(${weighed}), 0)`, averageShift(type));
    },
  },
  percentile: {
    written: ["PERCENTILE"],
    words: "percentile",
    help: "The value with a given percentage of all values below it: the 90th of 1 to 11 → 10.",
    takes: isNumber,
    gives: (type) => (type.kind === "floating" ? type : decimal(scaleOf(type) + PERCENT_DIGITS)),
    keepsUnit: true,
    addsUp: false,
    percent: true,
    sql: (operand, { type, dialect, percent }) =>
      type.kind === "floating" ? dialect.percentileFloating(operand, percent) : dialect.percentileExact(operand, percent),
  },
  mode: {
    written: ["MODE"],
    words: "most frequent",
    help: "The value that stands there most often, the smallest of those that do: 4, 4, 7 → 4.",
    takes: (type) => type.kind !== "floating",
    gives: (type) => type,
    keepsUnit: true,
    addsUp: false,
    sql: (operand, { dialect }) => dialect.mode(operand),
  },
  range: {
    written: ["RANGE"],
    words: "range",
    help: "The largest value less the smallest: 4, 4, 7 → 3.",
    takes: isNumber,
    gives: (type) => type,
    keepsUnit: true,
    addsUp: false,
    sql: (operand) => `(MAX(${operand}) - MIN(${operand}))`,
  },
  deviation: spread("standard deviation", "How far values lie from their average, of a sample: 4, 4, 7 → 1.73.", ["STDDEV_SAMP", "STDDEV"], "deviation", true),
  deviationWhole: spread(
    "standard deviation (population)",
    "How far values lie from their average, where they are all there are: 4, 4, 7 → 1.41.",
    ["STDDEV_POP"],
    "deviation",
    false,
  ),
  variance: spread("variance", "The square of the standard deviation, of a sample: 4, 4, 7 → 3.", ["VAR_SAMP", "VARIANCE"], "variance", true),
  varianceWhole: spread(
    "variance (population)",
    "The square of the standard deviation, where values are all there are: 4, 4, 7 → 2.",
    ["VAR_POP"],
    "variance",
    false,
  ),
  share: {
    written: ["SHARE"],
    words: "share of yes",
    help: "The share of rows for which it is yes, of those that have a value: yes, no, no → 0.333.",
    takes: (type) => type.kind === "yesno",
    gives: () => carriedTo(SHARE_DIGITS),
    addsUp: false,
    sql: (operand, { dialect }) => dialect.divideCarried(`COUNT(CASE WHEN ${operand} THEN 1 END)`, `NULLIF(COUNT(${operand}), 0)`, SHARE_DIGITS + 1),
  },
  any: {
    written: ["ANY_OF", "BOOL_OR"],
    words: "any yes",
    help: "Whether any row says yes: yes, no → yes.",
    takes: (type) => type.kind === "yesno",
    gives: (type) => type,
    addsUp: false,
    sql: (operand, { dialect }) => dialect.anyOf(operand),
  },
  all: {
    written: ["ALL_OF", "BOOL_AND"],
    words: "all yes",
    help: "Whether every row with a value says yes: yes, no → no.",
    takes: (type) => type.kind === "yesno",
    gives: (type) => type,
    addsUp: false,
    sql: (operand, { dialect }) => dialect.allOf(operand),
  },
  list: {
    written: [],
    words: "list",
    help: "The values as one text, sorted, with a separator: Pell, Skarrow.",
    takes: any,
    gives: () => text,
    addsUp: false,
    order: "possible",
    counts: "most",
    sql: (operand, { by, direction, separator, dialect, count }) => {
      const order = [...(by ? [dialect.orderBy(by, direction)] : []), dialect.orderBy(operand, "up")].join(", ");
      if (count === 0) return dialect.list(operand, separator, order);
      const more = `CASE WHEN COUNT(${operand}) > ${count} THEN ' and ' || CAST(COUNT(${operand}) - ${count} AS ${dialect.textType}) || ' more' ELSE '' END`;
      return `(${dialect.listOf(operand, separator, order, count)} || ${more})`;
    },
  },
};

/** The figures that need nothing but a field. */
export const PLAIN_FIGURES = AGGREGATE_NAMES.filter((name) => {
  const { order, weighs, percent } = AGGREGATES[name];
  return order !== "needed" && !weighs && !percent;
});

/** Whether a figure needs another field beside its own. */
export const needsBy = (name: AggregateName): boolean => AGGREGATES[name].order === "needed" || AGGREGATES[name].weighs === true;

/** The figure a formula writes by a word; undefined where it writes none. */
export const writtenFigure = (word: string): AggregateName | undefined => AGGREGATE_NAMES.find((name) => AGGREGATES[name].written.includes(word));

/** The figures a formula can write, each by its first word, with what it means. */
export const WRITTEN_FIGURES: { word: string; help: string }[] = AGGREGATE_NAMES.flatMap((name) => {
  const { written, help } = AGGREGATES[name];
  return written.slice(0, 1).map((word) => ({ word, help }));
});

/** The record of a column's figure; undefined for a group's own value, and for what is worked out from figures or other rows. */
export const aggregateOf = (figure: FigureName | undefined): Aggregate | undefined =>
  figure === undefined || figure === "formula" || figure === "window" ? undefined : AGGREGATES[figure];

/** Numbers of rows in an order, as English writes them: 1st, 2nd, 11th. */
const ordinal = (n: number): string => `${n}${["th", "st", "nd", "rd"][n % 100 >= 11 && n % 100 <= 13 ? 0 : n % 10] ?? "th"}`;

/** What a column's figure is called. @param count of the n-th, which */
export const figureWords = (figure: FigureName, count?: number): string => (figure === "nth" ? ordinal(count ?? NTH) : (aggregateOf(figure)?.words ?? figure));

/** The type a figure comes to, of values of a type; what a formula comes to only its plan tells, and is a number here. */
export const givenBy = (figure: FigureName, type: ValueType): ValueType => aggregateOf(figure)?.gives(type) ?? decimal(2);

/** Whether the figures of parts add up to that of the whole. */
export const addsUpByKind = (figure: FigureName): boolean => aggregateOf(figure)?.addsUp ?? false;

/** What a list ends with where it has not all values. */
export const andMore = (rest: number | bigint): string => (rest > 0 ? ` and ${rest} more` : "");

/** What a figure starts with where nothing is chosen yet: the ninth tenth of a percentile (common practice). */
export const figureStart = (figure: FigureName, percent?: number): { percent?: number } => (aggregateOf(figure)?.percent ? { percent: percent ?? 90 } : {});

/** The figure a column is offered first when rows are grouped. */
export const firstFigure = (type: ValueType): AggregateName => (isNumber(type) ? "total" : isDated(type) ? "greatest" : "countDifferent");
