import type { Definition } from "../derive/spec";
import type { ColumnFormat } from "../types/schemas";
import type { Storage } from "../types/storage";
import type { ValueType } from "../types/valueType";

export type Column = {
  /** Of a query's column: the table of which its values are keys of rows that have names, by which they are shown. */
  rowOf?: string | undefined;
  name: string;
  label: string;
  type: ValueType;
  storage: Storage;
  nullable: boolean;
  /** Shown beside a figure: "kg", or an ISO 4217 code. */
  unit?: string | undefined;
  /** Stored values that do not fit the type, counted when the file was last read. */
  misfits: number;
  /** Only some of its values have been looked at yet: how many others do not fit is not known. */
  sampled?: true | undefined;
  /** The most characters a text may have, where the database says so. */
  most?: number | undefined;
  /** The only values that a check of the database allows, where it is a list of them. */
  allowed?: string[] | undefined;
  format?: ColumnFormat | undefined;
  note?: string | undefined;
  /** The database gives it a value where a new row has none: a numbered key, or a column with a default. */
  filled?: "number" | "default" | undefined;
  /** Whole numbers of so many digits that they are names, not amounts. */
  long?: boolean | undefined;
  /** The database works it out itself; it cannot be written. */
  generated?: boolean | undefined;
  /** A derived field: how it is worked out, in data and in words. It is stored nowhere. */
  derived?: { definition: Definition; words: string; broken?: string | undefined } | undefined;
  /** Of a query's rows that repeat it: the rows it belongs to (query/home.ts), and the columns that tell them apart. */
  home?: { words: string; of: string[]; tells: string[]; keys: string[] | null } | undefined;
};

/** Whether values of a column may not fit its type, so that each is read with a look at what it is. */
export const mayMisfit = ({ misfits, sampled }: Pick<Column, "misfits" | "sampled">): boolean => misfits > 0 || sampled === true;

/** The comparisons a link can be made of, as conditions name them. */
export const LINK_OPERATORS = ["is", "isNot", "less", "atMost", "greater", "atLeast"] as const;
export type LinkOperator = (typeof LINK_OPERATORS)[number];

/** One comparison of a link as seen from one end. */
export type LinkComparison = { near: string; operator: LinkOperator; far: string };
