/** What becomes of values that do not fit a column's new type: the change waits for them to be mended, or they are emptied. */
export const SHAPE_MISFITS = ["refuse", "empty"] as const;
export type ShapeMisfits = (typeof SHAPE_MISFITS)[number];

/** How a check compares a column's values. */
export const CHECK_OPERATORS = ["greater", "atLeast", "less", "atMost", "isNot"] as const;
export type CheckOperator = (typeof CHECK_OPERATORS)[number];
export const CHECK_WORDS: Record<CheckOperator, { sql: string; words: string }> = {
  greater: { sql: ">", words: "more than" },
  atLeast: { sql: ">=", words: "at least" },
  less: { sql: "<", words: "less than" },
  atMost: { sql: "<=", words: "at most" },
  isNot: { sql: "<>", words: "not" },
};
