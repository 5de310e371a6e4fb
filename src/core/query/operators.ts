import { isDated, isNumber, type ValueType } from "../types/valueType";
import type { OperatorName } from "./choices";

/**
 * One record per comparison a condition can make. `words` is how the brief says it; {a} and {b} stand where the
 * values go. A negative comparison keeps rows that are empty in the field, and the brief says so.
 */
export type Operator = {
  words: (type: ValueType) => string;
  takes: (type: ValueType) => boolean;
  values: 0 | 1 | 2 | "many" | "rows";
  /** The comparison it is the opposite of. */
  negates?: OperatorName;
};

const any = () => true;
const ordered = (type: ValueType) => isNumber(type) || isDated(type) || type.kind === "text";
const textOnly = (type: ValueType) => type.kind === "text";
const say = (other: string, dated: string) => (type: ValueType) => (isDated(type) ? dated : other);

export const OPERATORS: Record<OperatorName, Operator> = {
  is: { words: () => "is", takes: any, values: 1 },
  isNot: { words: () => "is not", takes: any, values: 1, negates: "is" },
  less: { words: say("is less than", "is before"), takes: ordered, values: 1 },
  atMost: { words: say("is at most", "is on or before"), takes: ordered, values: 1 },
  greater: { words: say("is greater than", "is after"), takes: ordered, values: 1 },
  atLeast: { words: say("is at least", "is on or after"), takes: ordered, values: 1 },
  between: { words: say("is between", "is from"), takes: ordered, values: 2 },
  notBetween: { words: say("is not between", "is not from"), takes: ordered, values: 2, negates: "between" },
  during: { words: () => "is within", takes: isDated, values: 1 },
  notDuring: { words: () => "is not within", takes: isDated, values: 1, negates: "during" },
  contains: { words: () => "contains", takes: textOnly, values: 1 },
  notContains: { words: () => "does not contain", takes: textOnly, values: 1, negates: "contains" },
  beginsWith: { words: () => "begins with", takes: textOnly, values: 1 },
  notBeginsWith: { words: () => "does not begin with", takes: textOnly, values: 1, negates: "beginsWith" },
  endsWith: { words: () => "ends with", takes: textOnly, values: 1 },
  notEndsWith: { words: () => "does not end with", takes: textOnly, values: 1, negates: "endsWith" },
  like: { words: () => "matches the pattern", takes: textOnly, values: 1 },
  notLike: { words: () => "does not match the pattern", takes: textOnly, values: 1, negates: "like" },
  sameText: { words: () => "is the same text as", takes: textOnly, values: 1 },
  sameDay: { words: () => "is on the same day as", takes: isDated, values: 1 },
  sameMonth: { words: () => "is in the same month as", takes: isDated, values: 1 },
  sameYear: { words: () => "is in the same year as", takes: isDated, values: 1 },
  oneOf: { words: () => "is one of", takes: any, values: "many" },
  notOneOf: { words: () => "is not one of", takes: any, values: "many", negates: "oneOf" },
  among: { words: () => "is among", takes: any, values: "rows" },
  notAmong: { words: () => "is not among", takes: any, values: "rows", negates: "among" },
  empty: { words: () => "is empty", takes: any, values: 0 },
  notEmpty: { words: () => "is not empty", takes: any, values: 0 },
};

/** The comparisons that can be asked of a type, in the order a picker shows them. */
export const operatorsFor = (type: ValueType): OperatorName[] => (Object.keys(OPERATORS) as OperatorName[]).filter((name) => OPERATORS[name].takes(type));

/** Those of them whose values are written, not read from the rows of a table or query. */
export const writtenOperatorsFor = (type: ValueType): OperatorName[] => operatorsFor(type).filter((name) => OPERATORS[name].values !== "rows");

/** Whether a comparison is with a period of days. */
export const takesPeriod = (name: OperatorName): boolean => name === "during" || name === "notDuring";

/** The comparisons of a type that take the same kind of values as one, itself among them: each can stand in its place and keep what was given. */
export const operatorsLike = (name: OperatorName, type: ValueType): OperatorName[] =>
  operatorsFor(type).filter((other) => OPERATORS[other].values === OPERATORS[name].values && takesPeriod(other) === takesPeriod(name));

/** How many values a comparison needs at least. */
export const valuesNeeded = (name: OperatorName): number => {
  const { values } = OPERATORS[name];
  return values === "many" || values === "rows" ? 1 : values;
};
