import { z } from "zod";
import { LINK_OPERATORS } from "./schema";

const end = z.object({
  table: z.string(),
  columns: z.array(z.string()).min(1).max(8),
  name: z.string().trim().min(1, "Enter both names of the link.").max(100),
});

/** A link made by a person: columns of two tables compared one by one. Whether an end leads to one or to many is read from the data. */
export const linkSpecSchema = z
  .object({ version: z.literal(1), a: end, b: end, operators: z.array(z.enum(LINK_OPERATORS)) })
  .refine(
    (l) => l.a.columns.length === l.b.columns.length && l.operators.length === l.a.columns.length,
    "Choose a column of the other table for each comparison.",
  );
export type LinkSpec = z.infer<typeof linkSpecSchema>;
