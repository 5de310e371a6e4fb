/** What tells one state of a database from the next: all of it, and its shape alone. */
export type Stamp = { data: string; shape: string };
