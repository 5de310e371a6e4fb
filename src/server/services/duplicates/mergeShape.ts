import { z } from "zod";

const key = z.array(z.string().max(2000)).max(20);

/** Groups of rows to be merged, as a browser sends them. */
export const mergeShape = z.object({
  table: z.string(),
  groups: z.array(z.object({ keep: key, others: z.array(key).min(1).max(10_000) })).max(1000),
  fill: z.boolean(),
});
