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
  "oneOf",
  "notOneOf",
  "empty",
  "notEmpty",
] as const;

export type OperatorName = (typeof OPERATOR_NAMES)[number];
