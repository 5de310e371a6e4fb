import { z } from "zod";
import { isIsoDate } from "../types/date";

const day = z.string().refine(isIsoDate, "Enter a date.");

/** Which entries of the journal are looked for (journalFind.ts). */
export const journalFindSchema = z.object({
  table: z.string().nullable(),
  by: z.string().max(200).nullable(),
  from: day.nullable(),
  to: day.nullable(),
  text: z.string().max(200),
});
