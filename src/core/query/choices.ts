export const OPERATOR_NAMES = [
  "is",
  "isNot",
  "less",
  "atMost",
  "greater",
  "atLeast",
  "between",
  "notBetween",
  "during",
  "notDuring",
  "contains",
  "notContains",
  "beginsWith",
  "notBeginsWith",
  "endsWith",
  "notEndsWith",
  "like",
  "notLike",
  "sameText",
  "sameDay",
  "sameMonth",
  "sameYear",
  "oneOf",
  "notOneOf",
  "among",
  "notAmong",
  "empty",
  "notEmpty",
] as const;

export type OperatorName = (typeof OPERATOR_NAMES)[number];

/** How many of a group's conditions must hold. */
export const HOLDS_NAMES = ["all", "any", "none"] as const;
export type HoldsName = (typeof HOLDS_NAMES)[number];

/** The ways a table can be joined; joinWays.ts says what each means. */
export const JOIN_WAY_NAMES = ["keep", "only", "other", "both", "has", "hasNone", "every"] as const;
export type JoinWay = (typeof JOIN_WAY_NAMES)[number];

/** How the rows of several sources are put together: all of them, each different one once, those in all, those in the first only. */
export const STACK_NAMES = ["all", "different", "both", "first"] as const;
export type StackName = (typeof STACK_NAMES)[number];

/** The name under which a saved query stands among the tables. */
export const queryTableName = (id: string): string => `query ${id}`;

/** The saved query that a name among the tables stands for; null where it is a table's own. */
export const queryOfTable = (name: string): string | null => (name.startsWith("query ") ? name.slice("query ".length) : null);

/** The most first letters that texts are put together by. */
export const MOST_LETTERS = 20;

/** The most characters a parameter's value may have. */
export const PARAMETER_VALUE_MOST = 2000;

/** What a parameter may be called. */
export const PARAMETER_NAME = /^[\p{L}_][\p{L}\p{N}_ ]*$/u;

/** The figures over rows; aggregates.ts says what each means. */
export const AGGREGATE_NAMES = [
  "count",
  "countDifferent",
  "total",
  "average",
  "weightedAverage",
  "median",
  "percentile",
  "mode",
  "least",
  "greatest",
  "range",
  "deviation",
  "deviationWhole",
  "variance",
  "varianceWhole",
  "share",
  "any",
  "all",
  "first",
  "last",
  "nth",
  "list",
] as const;
export type AggregateName = (typeof AGGREGATE_NAMES)[number];

/** What a column can be made of beside a value: a figure over a group's rows, a formula over figures, or what the other rows shown make of it. */
export const FIGURE_NAMES = [...AGGREGATE_NAMES, "formula", "window"] as const;
export type FigureName = (typeof FIGURE_NAMES)[number];

/** What a column can be worked out to from the rows beside it; windows.ts says what each means. */
export const WINDOW_NAMES = [
  "running",
  "share",
  "rank",
  "quantile",
  "number",
  "difference",
  "change",
  "moving",
  "total",
  "average",
  "least",
  "greatest",
] as const;
export type WindowName = (typeof WINDOW_NAMES)[number];

/** Which row a difference is taken from: the one before in order, that of the period before, or of the same period a year before. */
export const BACK_NAMES = ["row", "period", "year"] as const;
export type BackName = (typeof BACK_NAMES)[number];

/** Pixels of a column of a sheet. */
export const LEAST_WIDTH = 40;
export const MOST_WIDTH = 1000;

/** How cells are marked by a rule: a ground with a sign, a sign, or a bar as long as the value; marks.ts says what each means. */
export const MARK_LOOKS = ["shade", "sign", "bar"] as const;
export type MarkLook = (typeof MARK_LOOKS)[number];
export const MARK_TONES = ["wrong", "look", "agrees"] as const;
export type MarkTone = (typeof MARK_TONES)[number];
/** The comparisons a rule can make; `beyond` is further from 0 than its value, on either side. */
export const MARK_TESTS = ["atLeast", "greater", "atMost", "less", "beyond", "is", "isNot", "contains", "empty", "notEmpty"] as const;
export type MarkTest = (typeof MARK_TESTS)[number];
