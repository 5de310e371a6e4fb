import { z } from "zod";
import { columnFormatSchema, groupPartSchema, relativeDateSchema } from "../types/schemas";
import { AGGREGATE_NAMES } from "./aggregates";
import { OPERATOR_NAMES } from "./choices";

/**
 * The saved description of a query. A person builds this; everything else (plan, SQL, proof, brief) is worked out
 * from it. Fields name tables by the id of their join; the source's id is "".
 */
const id = z.string().max(60);

/** Numbers put together by bands of one width, counted from 0; in the field's own notation. */
const bandSchema = z.object({ width: z.string().max(30) });

export const operandSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("field"), join: id, column: z.string(), part: groupPartSchema.optional(), band: bandSchema.optional() }),
  z.object({ kind: z.literal("formula"), text: z.string().max(4000) }),
]);
export type Operand = z.infer<typeof operandSchema>;

/** A value a person typed, as text in the field's own notation; "" is not yet filled in. Yes/no is "yes" or "no". */
export const valueSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("value"), text: z.string().max(2000) }),
  z.object({ kind: z.literal("parameter"), name: z.string() }),
  z.object({ kind: z.literal("relative"), date: relativeDateSchema }),
  z.object({ kind: z.literal("field"), join: id, column: z.string() }),
  /** What the data knows the signed-in person as. */
  z.object({ kind: z.literal("person") }),
]);
export type Value = z.infer<typeof valueSchema>;

export const conditionSchema = z.object({
  id,
  left: operandSchema,
  operator: z.enum(OPERATOR_NAMES),
  values: z.array(valueSchema).max(1000),
});
export type Condition = z.infer<typeof conditionSchema>;

export const joinSchema = z.object({
  id: id.min(1),
  /** The join it starts from; "" is the source. */
  from: id,
  link: z.string(),
  toward: z.enum(["a", "b"]),
  /** keep: rows without a match stay, with empty columns. only: rows without a match are left out. */
  unmatched: z.enum(["keep", "only"]),
});
export type Join = z.infer<typeof joinSchema>;

export const columnSchema = z.object({
  id: id.min(1),
  /** null only for a count of rows. */
  value: operandSchema.nullable(),
  /** In a grouped query a column without a figure is a group key. */
  figure: z.enum(AGGREGATE_NAMES).optional(),
  /** For first and last: the field whose order tells; for a list: its order. */
  by: operandSchema.optional(),
  direction: z.enum(["up", "down"]).optional(),
  /** Between the values of a list. */
  separator: z.string().max(20).optional(),
  label: z.string().max(200).optional(),
  hidden: z.boolean().optional(),
  format: columnFormatSchema.optional(),
  /** Whether the footing adds this column up; when unset, what the column is decides. */
  footing: z.enum(["total", "none"]).optional(),
  /** A total adds a value as often as it stands in the rows, also where a link repeats it; otherwise once for each row it belongs to. */
  everyRow: z.boolean().optional(),
});
export type QueryColumn = z.infer<typeof columnSchema>;

export const parameterDefaultSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("fixed"), text: z.string().max(2000) }),
  z.object({ kind: z.literal("relative"), date: relativeDateSchema }),
]);
export type ParameterDefault = z.infer<typeof parameterDefaultSchema>;

export const parameterSchema = z.object({
  name: z
    .string()
    .regex(/^[\p{L}_][\p{L}\p{N}_ ]*$/u)
    .max(60),
  type: z.enum(["text", "whole", "decimal", "date", "yesno", "choice"]),
  choices: z.array(z.string()).max(500).optional(),
  default: parameterDefaultSchema.optional(),
  /** Left empty, the conditions that use it are dropped. */
  optional: z.boolean().optional(),
});
export type Parameter = z.infer<typeof parameterSchema>;

/** A figure from another source that the query must agree with: a count of its rows, or the total of a column. */
export const controlSchema = z.object({ id, source: z.string().max(200), column: id.nullable(), value: z.string().max(60) });
export type ControlTotal = z.infer<typeof controlSchema>;

export const querySpecSchema = z.object({
  version: z.literal(1),
  source: z.string(),
  joins: z.array(joinSchema).max(60),
  conditions: z.array(conditionSchema).max(200),
  grouped: z.boolean(),
  columns: z.array(columnSchema).max(500),
  order: z.array(z.object({ column: id, direction: z.enum(["up", "down"]) })).max(50),
  limit: z.number().nullable(),
  parameters: z.array(parameterSchema).max(60),
  /** The column whose figure the proof follows; unset: the first one that adds up. */
  proofColumn: id.optional(),
  controls: z.array(controlSchema).max(20).optional(),
});
export type QuerySpec = z.infer<typeof querySpecSchema>;

/** What a person, a schedule or a report gives for parameters: text in the parameter's own notation. */
export const parameterValuesSchema = z.record(z.string(), z.string().max(2000));
export type ParameterValues = z.infer<typeof parameterValuesSchema>;
