import { z } from "zod";
import { DATE_ORDERS } from "../types/date";
import { valueTypeSchema } from "../types/schemas";
import { CLEAN_CASES, DOUBLED_RULES, ENCODINGS, MISFIT_RULES } from "./choices";

/** How a file is to be read: found out from the file, and changeable. */
export const fileFormatSchema = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("delimited"),
    delimiter: z.string().length(1),
    quote: z.enum(['"', "'", ""]),
    encoding: z.enum(ENCODINGS),
    /** Whether the first line has the columns' names. */
    heading: z.boolean(),
    /** Numbers are written with a decimal comma. */
    comma: z.boolean(),
  }),
  /** One sheet of a workbook; the row its headings stand in, from 1, or 0 where it has none. */
  z.object({ kind: z.literal("sheet"), sheet: z.string(), heading: z.number().int().min(0).max(1000) }),
  z.object({ kind: z.literal("json") }),
  z.object({ kind: z.literal("ndjson") }),
]);
export type FileFormat = z.infer<typeof fileFormatSchema>;

/** What is done with the texts of a column before anything is made of them. */
export const cleanSchema = z.object({
  /** No spaces around a value, and one between words. */
  trim: z.boolean().optional(),
  case: z.enum(CLEAN_CASES).optional(),
  /** Values that mean others. */
  mapped: z
    .array(z.object({ written: z.string().max(500), text: z.string().max(500) }))
    .max(500)
    .optional(),
  /** An empty value is that of the row above. */
  down: z.boolean().optional(),
});
export type Clean = z.infer<typeof cleanSchema>;

export const importColumnSchema = z.object({
  name: z.string().trim().min(1, "Give every column a name.").max(120),
  type: valueTypeSchema,
  dates: z.enum(DATE_ORDERS),
  /** What may stand beside the digits of its numbers (numbers.ts); nothing may where it is not given. */
  affix: z.string().max(8).optional(),
  clean: cleanSchema.optional(),
  /** The column is left out. */
  left: z.boolean(),
});
export type ImportColumn = z.infer<typeof importColumnSchema>;

export const importSpecSchema = z.object({
  format: fileFormatSchema,
  columns: z.array(importColumnSchema).min(1).max(1000),
  misfits: z.enum(MISFIT_RULES),
  /** A row whose values an earlier row has, all of them, is left out. */
  once: z.boolean().optional(),
  into: z.discriminatedUnion("kind", [
    z.object({
      kind: z.literal("table"),
      name: z.string().trim().min(1, "Enter a table name.").max(100),
      key: z.string().nullable(),
      doubled: z.enum(DOUBLED_RULES).optional(),
    }),
    z.object({ kind: z.literal("posting"), target: z.string() }),
  ]),
});
export type ImportSpec = z.infer<typeof importSpecSchema>;
