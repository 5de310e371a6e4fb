import type { Stored } from "../posting/coerce";
import type { Column, Table } from "../schema/schema";
import type { Today } from "../types/calendar";
import type { DateOrder } from "../types/date";
import type { ProblemCode } from "../types/problem";
import type { SHAPE_DIFFERING } from "./choices";
import type { CreateTable } from "./createTable";
import type { Worked } from "./worked";

/* A change of a table's shape as it is planned: plain data, which the server carries out. */

/** Where the values of a column come from. */
export type ShapeValue =
  | { kind: "same"; column: string }
  /** Each value of a column read as its new type; those that do not fit, where it is said so, as what a formula comes to. */
  | { kind: "convert"; from: Column; dates: DateOrder; empty: boolean; mapped: [string, string][]; fill: Stored; instead?: Column | undefined }
  /** What a formula comes to in each row, read as the column's type; `from` is where it is kept meanwhile. */
  | { kind: "formula"; from: Column; dates: DateOrder; empty: boolean; mapped: [string, string][]; fill: Stored; text: string }
  | { kind: "fill"; stored: Stored }
  /** The values of a column looked up among a table's rows, past case, accents and blanks around them. */
  | { kind: "lookup"; from: Column; table: string; match: Column; give: Column; mapped: [string, string][]; empty: boolean }
  /** The number by which the database knows the row. */
  | { kind: "number" };

/** What a column's definition says from now on; what is undefined stays as it is written. */
export type ColumnEdit = {
  declared?: string | undefined;
  notNull?: boolean | undefined;
  unique?: boolean | undefined;
  /** SQL; null where there is none any more. */
  fallback?: string | null | undefined;
  check?: { sql: string; words: string } | null | undefined;
  primaryKey?: boolean | undefined;
  /** The row of another table that a value leads to. */
  references?: { table: string; column: string } | undefined;
};

export type ShapePlanColumn = {
  id: string;
  /** The column as the ledger will read it. */
  column: Column;
  value: ShapeValue;
  edit: ColumnEdit;
  /** What its values are held against. */
  required: boolean;
  different: boolean;
  check: { sql: string; words: string } | null;
};

/** What is made before the table is changed, so that its rows can lead there. */
export type ShapeMake =
  /** A row for each value of a column that names none, in the table and the column it is looked up in. */
  | { kind: "rows"; id: string; table: Table; match: Column; from: Column; mapped: string[] }
  /** A table of columns of this one: a row for each value of one of them, numbered. */
  | {
      kind: "table";
      id: string;
      name: string;
      key: string;
      by: Column;
      columns: { from: Column; name: string; declared: string }[];
      differing: (typeof SHAPE_DIFFERING)[number];
    };

/** What people said of a column, before a change and after it. */
export type ShapeSaid = { column: string; before: SaidOf; after: SaidOf };
export type SaidOf = { unit: string | null; note: string | null };

/** A change of a table, checked. */
export type ShapePlan = {
  /** By its name now; null where it is made. */
  table: string | null;
  name: string;
  columns: ShapePlanColumn[];
  renames: [from: string, to: string][];
  dropped: Column[];
  /** The columns of the key by their names to be; null where it stays as it is. */
  key: string[] | null;
  makes: ShapeMake[];
  /** Columns of which something else is said than before. */
  said: ShapeSaid[];
  worked: Worked | null;
  /** What is to be done: only what is said of columns, names alone, columns at the end alone, or every row written anew. */
  how: "nothing" | "said" | "names" | "added" | "rebuild" | "make";
};

export type ShapeContext = {
  /** The table as it is, and what its statement says; null where it is to be made. */
  now: { table: Table; sql: CreateTable } | null;
  /** The database's tables, among which values can be looked up. */
  tables: Table[];
  /** Names of the database's tables, views and indexes. */
  taken: string[];
  /** How dates are typed. */
  order: DateOrder;
  today: Today;
};

/** Takes what is wrong with a change, and where. */
export type Wrong = (code: ProblemCode, path: (string | number)[], detail?: Record<string, string | number>) => void;
