export const ENCODINGS = ["utf-8", "windows-1252", "utf-16le", "utf-16be"] as const;

/** What becomes of rows whose key an earlier row has. */
export const DOUBLED_RULES = ["refuse", "first", "last"] as const;
export type DoubledRule = (typeof DOUBLED_RULES)[number];
export const DOUBLED_WORDS: Record<DoubledRule, string> = {
  refuse: "import nothing, and say which",
  first: "keep the first row",
  last: "keep the last row",
};

/** What becomes of a value that does not fit its column's type. */
export const MISFIT_RULES = ["keep", "empty", "leaveOut"] as const;
export type MisfitRule = (typeof MISFIT_RULES)[number];
export const MISFIT_WORDS: Record<MisfitRule, string> = {
  keep: "keep as text and flag",
  empty: "leave empty",
  leaveOut: "skip the row",
};

/** How texts are written that are cleaned. */
export const CLEAN_CASES = ["upper", "lower", "title"] as const;
export const CLEAN_CASE_WORDS: Record<(typeof CLEAN_CASES)[number], string> = { upper: "UPPER CASE", lower: "lower case", title: "Capital Letters" };
