import { z } from "zod";
import { pivotSpecSchema } from "../pivot/spec";
import { CHART_KINDS, EARLIER } from "./choices";

/**
 * The saved description of a chart. What it counts is a pivot: `across` is what runs along, `down` splits, the figures
 * are heights. Points and bubbles take the fields of the first two or three figures as they are; a histogram and boxes
 * that of the first.
 */
export const chartSpecSchema = z.object({
  version: z.literal(1),
  query: z.string(),
  kind: z.enum(CHART_KINDS),
  pivot: pivotSpecSchema,
  /** Figures drawn as lines against a second axis, by id. */
  right: z.array(z.string().max(60)).max(20),
  /** Values written beside their marks. */
  labels: z.boolean(),
  /** A second sign beside colour in bars, parts and areas. */
  patterns: z.boolean(),
  /** Bars that lie. */
  lying: z.boolean(),
  target: z.object({ value: z.string().max(30), words: z.string().max(100) }).nullable(),
  mean: z.boolean(),
  trend: z.boolean(),
  earlier: z.enum(EARLIER).nullable(),
  /** Width of a histogram's bands, in plain digits; "" lets the data decide. */
  band: z.string().max(30),
});
export type ChartSpec = z.infer<typeof chartSpecSchema>;
