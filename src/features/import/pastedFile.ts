/** The files rows can be read from, as a browser's file dialog takes them. */
export const LIST_FILES = ".csv,.tsv,.txt,.xlsx,.json,.ndjson,.jsonl";

/** Two lines, or a line and something that sets columns apart. */
const TABLE_LIKE = /[\t,;].*\n|\n.*[\t,;]/;

/** Rows as they were typed or pasted, as a file. */
export const rowsAsFile = (rows: string): File => new File([rows], "pasted rows.tsv", { type: "text/tab-separated-values" });

/**
 * What was pasted, as a file: one that was copied, or rows of a sheet.
 * @returns null where nothing was; “no table” where it was text that is none
 */
export function pastedFile(data: DataTransfer | null): File | "no table" | null {
  const [file] = data?.files ?? [];
  const rows = data?.getData("text/plain") ?? "";
  if (file || rows.trim() === "") return file ?? null;
  return TABLE_LIKE.test(rows) ? rowsAsFile(rows) : "no table";
}
