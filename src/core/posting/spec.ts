import { z } from "zod";
import { parameterValuesSchema } from "../query/spec";
import { DATE_ORDERS } from "../types/date";

/** Where the rows of a posting come from. */
export const postingSourceSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("table"), table: z.string() }),
  z.object({ kind: z.literal("query"), id: z.string(), values: parameterValuesSchema }),
  /** A file that was read in, by the id it is kept under. */
  z.object({ kind: z.literal("file"), id: z.string().regex(/^[\w-]{1,60}$/), name: z.string().max(300) }),
]);
export type PostingSource = z.infer<typeof postingSourceSchema>;

export const pairSchema = z.object({
  /** The target's column. */
  column: z.string(),
  value: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("field"), name: z.string() }),
    z.object({ kind: z.literal("formula"), text: z.string().max(4000) }),
  ]),
  /** The value names a row of another table by one of its columns, and the link's own column is what is written. */
  found: z.object({ link: z.string(), by: z.string() }).optional(),
  /** How dates are written, where the value is text. */
  dates: z.enum(DATE_ORDERS).optional(),
});
export type Pair = z.infer<typeof pairSchema>;

/** The saved description of a posting. Until it is posted it is a draft and nothing is changed. */
export const postingSpecSchema = z.object({
  version: z.literal(1),
  source: postingSourceSchema,
  action: z.enum(["add", "change", "remove"]),
  target: z.string(),
  /** A row is the same where these columns of the target are the same. */
  same: z.array(z.string()).max(20),
  /** What becomes of rows already there, when rows are added. */
  present: z.enum(["leave", "change", "add"]),
  /** What becomes of a change that would leave a link of another row leading nowhere. */
  breaking: z.enum(["refuse", "allow"]),
  pairs: z.array(pairSchema).max(500),
});
export type PostingSpec = z.infer<typeof postingSpecSchema>;
