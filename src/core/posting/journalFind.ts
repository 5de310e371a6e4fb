/** Which entries of the journal are looked for; what is null or empty does not matter. Days are those of the workspace's zone. */
export type JournalFind = {
  table: string | null;
  by: string | null;
  from: string | null;
  to: string | null;
  /** In names, briefs, and the values that were changed; or an entry's number. */
  text: string;
};

export const EVERY_ENTRY: JournalFind = { table: null, by: null, from: null, to: null, text: "" };

export const isEveryEntry = (find: JournalFind): boolean =>
  find.table === null && find.by === null && find.from === null && find.to === null && find.text.trim() === "";

/** What the journal is exported as: a line for each entry, or for each value that was changed. */
export const JOURNAL_EXPORTS = ["entries", "changes"] as const;
export type JournalExport = (typeof JOURNAL_EXPORTS)[number];
