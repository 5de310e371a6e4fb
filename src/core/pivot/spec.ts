import { z } from "zod";
import { FIGURE_NAMES } from "../query/choices";
import { conditionSchema, operandSchema, parameterSchema } from "../query/spec";
import { columnFormatSchema } from "../types/schemas";
import { SHOW_AS } from "./choices";

/**
 * The saved description of a pivot. Its fields are the columns of its query: every operand names a column by its id
 * and has join "".
 */
const id = z.string().min(1).max(60);

export const axisSchema = z.object({
  id,
  value: operandSchema,
  label: z.string().max(200).optional(),
  /** By name: in the order of its values. By figure: of the total over the other axis. By hand: those listed first, as listed. */
  order: z.discriminatedUnion("by", [
    z.object({ by: z.literal("name"), direction: z.enum(["up", "down"]) }),
    z.object({ by: z.literal("figure"), direction: z.enum(["up", "down"]), figure: id }),
    z.object({ by: z.literal("hand"), keys: z.array(z.string().max(2000)).max(2000) }),
  ]),
  /** Only so many, the rest together as one; null shows all. */
  first: z.number().int().min(1).max(1000).nullable(),
  /** Whether groups without rows are shown: periods and bands between others, values found under another parent. */
  empty: z.boolean(),
  /** Where the subtotal of this field's groups stands; the innermost field has none. */
  subtotal: z.enum(["before", "after", "none"]),
});
export type PivotAxis = z.infer<typeof axisSchema>;

export const pivotFigureSchema = z.object({
  id,
  /** null only for a count of rows. */
  value: operandSchema.nullable(),
  figure: z.enum(FIGURE_NAMES),
  /** Of a percentile. */
  percent: z.number().min(0).max(100).optional(),
  /** Of the n-th: which; of a list: how many values at most. */
  count: z.number().int().min(1).max(1000).optional(),
  /** What a row must meet to be counted in the figure. */
  where: z.array(conditionSchema).max(100).optional(),
  /** As in a query's column: a total adds a value as often as it stands in the rows. */
  everyRow: z.boolean().optional(),
  by: operandSchema.optional(),
  direction: z.enum(["up", "down"]).optional(),
  separator: z.string().max(20).optional(),
  showAs: z.enum(SHOW_AS),
  label: z.string().max(200).optional(),
  format: columnFormatSchema.optional(),
});
export type PivotFigure = z.infer<typeof pivotFigureSchema>;

export const pivotSpecSchema = z.object({
  version: z.literal(1),
  query: z.string(),
  down: z.array(axisSchema).max(8),
  across: z.array(axisSchema).max(8),
  figures: z.array(pivotFigureSchema).max(20),
  conditions: z.array(conditionSchema).max(100),
  /** Values bound to parameters, its query's and its own. */
  parameters: z.record(z.string(), z.string().max(2000)),
  /** Parameters its own conditions ask for, beside those of its query. */
  asked: z.array(parameterSchema).max(30),
  /** The line over all rows, and the column over all columns. */
  totals: z.object({ down: z.boolean(), across: z.boolean() }),
  /** The figure whose size shades its cells. */
  heat: id.nullable(),
  /** Groups folded shut, each by the keys that lead to it (see keyOf). */
  shut: z.array(z.string().max(4000)).max(5000),
});
export type PivotSpec = z.infer<typeof pivotSpecSchema>;
