export const OPERATOR_NAMES = [
  "is",
  "isNot",
  "less",
  "atMost",
  "greater",
  "atLeast",
  "between",
  "notBetween",
  "contains",
  "notContains",
  "beginsWith",
  "notBeginsWith",
  "endsWith",
  "notEndsWith",
  "like",
  "notLike",
  "oneOf",
  "notOneOf",
  "empty",
  "notEmpty",
] as const;

export type OperatorName = (typeof OPERATOR_NAMES)[number];

/** How many of a group's conditions must hold. */
export const HOLDS_NAMES = ["all", "any", "none"] as const;
export type HoldsName = (typeof HOLDS_NAMES)[number];

/** The ways a table can be joined; joinWays.ts says what each means. */
export const JOIN_WAY_NAMES = ["keep", "only", "other", "both", "has", "hasNone"] as const;
export type JoinWay = (typeof JOIN_WAY_NAMES)[number];

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
  "list",
] as const;
export type AggregateName = (typeof AGGREGATE_NAMES)[number];

/** What a column of groups can be made of: a figure over their rows, or a formula over figures. */
export const FIGURE_NAMES = [...AGGREGATE_NAMES, "formula"] as const;
export type FigureName = (typeof FIGURE_NAMES)[number];
