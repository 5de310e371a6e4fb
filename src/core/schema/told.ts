import type { ColumnFormat } from "../types/schemas";
import type { ValueType } from "../types/valueType";
import type { LinkSpec } from "./linkSpec";

/* What people told of a database, which its own shape does not say. */

/** What is set for a column; null where it is as the database has it. */
export type ColumnSetting = {
  table: string;
  column: string;
  unit: string | null;
  label: string | null;
  note: string | null;
  type: ValueType | null;
  format: ColumnFormat | null;
};

/** A link that a person made. */
export type MadeLink = { id: string; label: string; spec: LinkSpec };
