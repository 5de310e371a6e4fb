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
