import { z } from "zod";
import { chartTile, figureTile } from "../dashboard/spec";
import { stepSchema } from "../derive/spec";
import { querySpecSchema } from "../query/spec";

/** Rows that belong to a row: by a link, by the same value, or all that meet the panel's own conditions. */
export const panelSchema = z.object({
  id: z.string().min(1).max(60),
  title: z.string().max(200),
  match: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("link"), step: stepSchema }),
    /** Rows of the same table with the same value in a column; with the row itself among them, or without. */
    z.object({ kind: z.literal("same"), column: z.string(), itself: z.boolean() }),
    z.object({ kind: z.literal("all") }),
  ]),
  /** Columns, order, conditions and parameters. A condition may name the row itself, as the table PARENT. */
  query: querySpecSchema,
  /** How many rows are shown; the footing is over all. */
  first: z.number().int().min(1).max(200),
  hideEmpty: z.boolean(),
});
export type Panel = z.infer<typeof panelSchema>;

/** A chart or a figure over the rows that belong to the row. */
export const shownSchema = z.discriminatedUnion("kind", [chartTile, figureTile]);
export type Shown = z.infer<typeof shownSchema>;

/** The page of one row of a table: which panels stand on it. */
export const folioSpecSchema = z.object({
  version: z.literal(1),
  table: z.string(),
  panels: z.array(panelSchema).max(40),
  shown: z.array(shownSchema).max(20).optional(),
});
export type FolioSpec = z.infer<typeof folioSpecSchema>;
