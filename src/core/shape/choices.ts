/**
 * What becomes of values that do not fit a column's new type, or that name no row: the change waits for them to be mended, they are
 * emptied, worked out by a formula, or made as new rows of the table they are to name.
 */
export const SHAPE_MISFITS = ["refuse", "empty", "formula", "make"] as const;
export type ShapeMisfits = (typeof SHAPE_MISFITS)[number];

/** What is taken where rows that become one have different values: none, so that the change waits, or the value that most have. */
export const SHAPE_DIFFERING = ["refuse", "most"] as const;

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
