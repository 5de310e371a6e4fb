import { z } from "zod";
import { parameterValuesSchema } from "../query/spec";
import { DATE_ORDERS } from "../types/date";
import { ACTIONS, CONTROL_COMPARES, CONTROL_FIGURES, EXISTING, PRESENT } from "./choices";

/** Where the rows of a posting come from. */
export const postingSourceSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("table"), table: z.string() }),
  z.object({ kind: z.literal("query"), id: z.string(), values: parameterValuesSchema }),
  /** A file that was read in, by the id it is kept under. */
  z.object({ kind: z.literal("file"), id: z.string().regex(/^[\w-]{1,60}$/), name: z.string().max(300) }),
  /** The newest file of the inbox whose name is like this, read as the file was that is kept under the id. */
  z.object({
    kind: z.literal("inbox"),
    like: z
      .string()
      .min(1, "Enter a file name. * stands for any characters.")
      .max(200)
      .regex(/^[^/\\\0]*$/, "A file name has no slashes."),
    as: z.string().regex(/^[\w-]{1,60}$/),
  }),
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
  /** A row in which the value is empty takes that of the row before it in the source. */
  down: z.boolean().optional(),
  /** How dates are written, where the value is text. */
  dates: z.enum(DATE_ORDERS).optional(),
  /** What becomes of the column in rows that exist already; it is written where nothing is said. */
  existing: z.enum(EXISTING).optional(),
});
export type Pair = z.infer<typeof pairSchema>;

const stepShape = {
  action: z.enum(ACTIONS),
  target: z.string(),
  /** A row is the same where these columns of the target are the same. */
  same: z.array(z.string()).max(20),
  /** Texts are the same past case, accents, punctuation and the order of words. */
  alike: z.boolean().optional(),
  /** What becomes of rows already there, when rows are added or moved. */
  present: z.enum(PRESENT),
  /** What becomes of a change that would leave a link of another row leading nowhere. */
  breaking: z.enum(["refuse", "allow"]),
  pairs: z.array(pairSchema).max(500),
};

/** A further step of a posting; without a source of its own it takes the rows of the first. */
const nextStepSchema = z.object({ source: postingSourceSchema.nullable(), ...stepShape });
export type NextStep = z.infer<typeof nextStepSchema>;

/** A figure that a posting must agree with, or it is not made. */
export const postingControlSchema = z.object({
  /** The step it is about, from 0. */
  step: z.number().int().min(0).max(9),
  figure: z.enum(CONTROL_FIGURES),
  /** The target's column whose total is compared by how much it grows. */
  column: z.string().optional(),
  compare: z.enum(CONTROL_COMPARES),
  /** As it is typed; nothing is compared until there is something. */
  value: z.string().max(60),
});
export type PostingControl = z.infer<typeof postingControlSchema>;

/** The saved description of a posting. Until it is posted it is a draft and nothing is changed. */
export const postingSpecSchema = z.object({
  version: z.literal(1),
  source: postingSourceSchema,
  ...stepShape,
  /** What is done after the first step, in the same transaction and under the same number. */
  steps: z.array(nextStepSchema).max(9).optional(),
  controls: z.array(postingControlSchema).max(20).optional(),
});
export type PostingSpec = z.infer<typeof postingSpecSchema>;

/** One step of a posting with the source it takes its rows from. */
export type PostingStep = Pick<PostingSpec, "source" | keyof typeof stepShape>;
