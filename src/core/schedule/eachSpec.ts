import { z } from "zod";

/*
 * A subject made once for each of many: for each value of a column of its own query, or for each row of another one.
 */

/** By what a subject is narrowed to one of them: a column of its query with the same value, a parameter it is given, or a filter of a dashboard. */
const matchSchema = z.object({
  /** The column of the list: of the subject's own query, or of the other one. */
  from: z.string().max(60),
  to: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("column"), column: z.string().max(60) }),
    z.object({ kind: z.literal("parameter"), name: z.string().max(60) }),
    z.object({ kind: z.literal("filter"), filter: z.string().max(60) }),
  ]),
});

export const eachSchema = z.object({
  /** The saved query whose rows there is one for; null: the different values of columns of the subject's own. */
  query: z.string().max(60).nullable(),
  match: z.array(matchSchema).min(1, "Choose what there is one file for.").max(5),
  /** A formula over the list that names each file; empty: what it is for. */
  fileName: z.string().max(4000),
  /** The column of the list that holds each one's address; null: no separate messages. */
  to: z.string().max(60).nullable(),
  /** One without rows is not made. */
  skipEmpty: z.boolean(),
});
export type EachSpec = z.infer<typeof eachSchema>;
export type EachMatch = EachSpec["match"][number];
