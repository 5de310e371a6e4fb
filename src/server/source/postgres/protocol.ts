/*
 * What goes between a process that reads a database server, waiting, and the thread of it that speaks with the server.
 */

/** A value as the server writes it. */
export type Written = string | null;

export type Question =
  /**
   * A statement whose rows all come at once, up to so many and one. `kept`: the server keeps how it is read, for the next time.
   * `guarded`: where it fails, the transaction is as before.
   */
  | { all: { text: string; values: Written[]; most: number | null; kept?: boolean; guarded?: boolean } }
  /** A statement whose rows are fetched as they are taken; it lies in a transaction. */
  | { open: { text: string; values: Written[] } }
  | { fetch: { cursor: number; rows: number } }
  | { close: { cursor: number } }
  /** Rows for a COPY that takes them as text. */
  | { copy: { text: string; data: string } }
  /**
   * Statements without rows, or of which the last one's rows are told. `begins`: nothing is open, so that a connection that
   * was lost may be made anew; all else belongs to what was begun on this one.
   */
  | { run: { text: string; begins?: boolean } }
  | { end: true };

/** `types`: of the columns, as the server numbers types; `count`: rows that were changed or given. */
export type Answer = { rows: Written[][]; types: number[]; names: string[]; count: number; cursor?: number } | { error: ServerError };

/** What went wrong, with the server's code (SQLSTATE) or the network's. */
export type ServerError = { code: string; message: string; detail: string; column: string; constraint: string };
