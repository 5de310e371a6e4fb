import { z } from "zod";
import { FOOTINGS } from "./choices";

const mm = z.number().min(0).max(100);

export const levelSchema = z.object({
  column: z.string(),
  /** The heading's text; {} stands for the group's value. */
  heading: z.string().max(200),
  direction: z.enum(["up", "down"]),
  newPage: z.boolean(),
  /** A heading stays on a page with at least so many of its rows. */
  keepRows: z.number().int().min(1).max(20),
  /** Whether the heading stands again where its group goes on over a page. */
  repeat: z.boolean(),
});
export type ReportLevel = z.infer<typeof levelSchema>;

/** The saved description of a printed report: a query by id, its groups, columns and paper. Widths in mm. */
export const reportSpecSchema = z.object({
  version: z.literal(1),
  query: z.string(),
  title: z.string().max(200),
  showBrief: z.boolean(),
  levels: z.array(levelSchema).max(8),
  columns: z.array(z.object({ column: z.string(), widthMm: z.number().min(5).max(300).nullable(), footing: z.enum(FOOTINGS) })).max(60),
  page: z.object({
    paper: z.enum(["A4", "Letter"]),
    landscape: z.boolean(),
    margins: z.object({ top: mm, right: mm, bottom: mm, left: mm }),
  }),
  header: z.string().max(200),
  footer: z.string().max(200),
  parameters: z.record(z.string(), z.string()),
  /** Whether the rows are printed, or only what they come to; printed where it is not said. */
  details: z.boolean().optional(),
  /** Pivots and charts printed after the rows, in order. */
  closing: z
    .array(z.object({ kind: z.enum(["pivot", "chart"]), id: z.string() }))
    .max(10)
    .optional(),
});
export type ReportSpec = z.infer<typeof reportSpecSchema>;
