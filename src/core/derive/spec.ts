import { z } from "zod";
import { querySpecSchema } from "../query/spec";
import { columnFormatSchema } from "../types/schemas";

export const stepSchema = z.object({ link: z.string(), toward: z.enum(["a", "b"]) });

/** How a derived field is worked out from its row. */
export const definitionSchema = z.discriminatedUnion("kind", [
  /** A scalar expression over the row and its other derived fields. */
  z.object({ kind: z.literal("formula"), text: z.string().max(4000) }),
  /** The value of a column, through links that each lead to one. */
  z.object({ kind: z.literal("lookup"), steps: z.array(stepSchema).min(1).max(12), column: z.string() }),
  /**
   * A figure over the rows that a link leads to. The query's source is the far table, its one column the figure; its
   * conditions may name the row itself, as the table PARENT.
   */
  z.object({ kind: z.literal("rollup"), step: stepSchema, query: querySpecSchema }),
]);
export type Definition = z.infer<typeof definitionSchema>;

/** A saved derived field. Its id names it in queries, so that its label can change. */
export const derivedFieldSchema = z.object({
  version: z.literal(1),
  table: z.string(),
  definition: definitionSchema,
  format: columnFormatSchema.optional(),
  unit: z.string().max(20).optional(),
});
export type DerivedFieldSpec = z.infer<typeof derivedFieldSchema>;

export type DerivedField = DerivedFieldSpec & { id: string; label: string };
