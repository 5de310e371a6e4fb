import { z } from "zod";
import { DATE_ORDERS } from "../types/date";
import { valueTypeSchema } from "../types/schemas";
import { CHECK_OPERATORS, SHAPE_DIFFERING, SHAPE_MISFITS } from "./choices";

const value = z.string().max(2000);

/** What every value of a column must meet; an empty one always does, as in SQL. */
export const checkSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("oneOf"), values: z.array(value).max(200) }),
  z.object({
    kind: z.literal("compare"),
    operator: z.enum(CHECK_OPERATORS),
    to: z.discriminatedUnion("kind", [z.object({ kind: z.literal("value"), text: value }), z.object({ kind: z.literal("column"), id: z.string() })]),
  }),
]);
export type ShapeCheck = z.infer<typeof checkSchema>;

/** A column as it is to be. What is not given stays as it is. */
export const shapeColumnSchema = z.object({
  id: z.string().max(80),
  /** The column it is made from, by its name now; null where it is new. */
  from: z.string().nullable(),
  name: z.string().max(120),
  type: valueTypeSchema.optional(),
  required: z.boolean().optional(),
  /** No two rows have the same value. */
  different: z.boolean().optional(),
  /** What a new row has where nothing is entered; null: nothing. */
  fallback: value.nullable().optional(),
  check: checkSchema.nullable().optional(),
  /** How dates are written, where texts are read as dates. */
  dates: z.enum(DATE_ORDERS).optional(),
  misfits: z.enum(SHAPE_MISFITS).optional(),
  /** What values that do not fit are read as. */
  mapped: z
    .array(z.object({ written: value, text: value }))
    .max(500)
    .optional(),
  /**
   * Of a new column: the formula its values are worked out by, over the row as it is now. Of a column that is there: what values
   * are read as that do not fit, where these are converted by a formula.
   */
  formula: z.string().max(4000).optional(),
  /**
   * Of a new column: the values of another, looked up among a table's rows. `match` is the column they are found in, `give`
   * the one whose value is taken; `link` makes it a foreign key. `made` says that the table is made first, of columns of this one:
   * one row for each value of `from`.
   */
  lookup: z
    .object({
      from: z.string(),
      table: z.string().max(100),
      match: z.string(),
      give: z.string(),
      link: z.boolean(),
      made: z.object({ columns: z.array(z.object({ from: z.string(), name: z.string().max(120) })).max(200), differing: z.enum(SHAPE_DIFFERING) }).optional(),
    })
    .optional(),
  /** What its values are measured in, and what is said of it; null for nothing any more. The ledger keeps these, not the database. */
  unit: z.string().max(20).nullable().optional(),
  note: z.string().max(1000).nullable().optional(),
  /** What rows have that have nothing there now. */
  fill: value.optional(),
});
export type ShapeColumn = z.infer<typeof shapeColumnSchema>;

/** A table as it is to be: the columns of today that are not among its columns are dropped. */
export const shapeSpecSchema = z.object({
  version: z.literal(1),
  /** By its name now; null where it is to be made. */
  table: z.string().nullable(),
  name: z.string().max(100),
  columns: z.array(shapeColumnSchema).max(1000),
  /** The columns whose values tell rows apart, by their ids; a column that numbers its rows; not given: as it is. */
  key: z
    .discriminatedUnion("kind", [
      z.object({ kind: z.literal("columns"), ids: z.array(z.string()).max(20) }),
      z.object({ kind: z.literal("number"), name: z.string().max(120) }),
    ])
    .optional(),
});
export type ShapeSpec = z.infer<typeof shapeSpecSchema>;
