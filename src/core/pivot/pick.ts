import { z } from "zod";

const cell = z.union([z.string(), z.number(), z.null()]);

/** One step to a heading: the key of its value, the rest of a first n by the keys that are not in it, or any value at all. */
export const stepSchema = z.union([z.object({ key: cell }), z.object({ rest: z.array(cell).max(5000) }), z.object({ any: z.literal(true) })]);

export type PivotStep = z.infer<typeof stepSchema>;

/** A cell of a pivot, by the steps to its headings; no steps mean the total. */
export const cellPickSchema = z.object({ down: z.array(stepSchema).max(8), across: z.array(stepSchema).max(8) });

export type CellPick = z.infer<typeof cellPickSchema>;
