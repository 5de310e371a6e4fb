import { z } from "zod";
import type { Calendar } from "./calendar";
import { DATE_PARTS, GROUP_PARTS, isIsoDate } from "./date";
import { MOST_PICTURE_BYTES, PICTURE_DATA } from "./picture";
import type { RelativeDate } from "./relative";
import { RELATIVE_DATES } from "./relative";
import type { ValueType } from "./valueType";

export const datePartSchema = z.enum(DATE_PARTS);

export const groupPartSchema = z.enum(GROUP_PARTS);

/** How a column's values are written. What is not set follows from the type. */
export const columnFormatSchema = z.object({
  decimals: z.number().int().min(0).max(12).optional(),
  grouping: z.boolean().optional(),
  date: z.enum(["short", "long", "iso", ...GROUP_PARTS]).optional(),
  /** A share of one, written as a percentage; `decimals` counts those of the percentage. */
  percent: z.boolean().optional(),
  /** A list of numbers, drawn as a line where there is room for one. */
  spark: z.boolean().optional(),
  /** The key of a row that has a name, shown as it is. */
  byKey: z.boolean().optional(),
  /** The value begins a band of this width, in plain digits. */
  band: z.string().optional(),
  /** The value begins a band by these limits, in plain digits, or lies below them all. */
  limits: z.array(z.string()).optional(),
});

export type ColumnFormat = z.infer<typeof columnFormatSchema>;

export const relativeDateSchema = z.enum(Object.keys(RELATIVE_DATES) as [RelativeDate, ...RelativeDate[]]);

/** Holidays of some decades at the most. */
const MOST_HOLIDAYS = 1000;

/** How a workspace divides its time: its weeks, its business years, the days it works. Weekdays by ISO 8601: Monday is 1. */
export const calendarSchema: z.ZodType<Calendar> = z.object({
  weekStart: z.number().int().min(1).max(7),
  /** The day the business year begins on, "MM-DD". 29 February is refused, as most years do not have it. */
  yearStart: z
    .string()
    .refine((day) => isIsoDate(`2001-${day}`), "No such day. Write the first day of the business year as month and day, like 04-01 for 1 April."),
  workingDays: z.array(z.number().int().min(1).max(7)).min(1, "Choose at least one working day.").max(7),
  /** Days nobody works, though their weekday is a working day. */
  holidays: z.array(z.string().refine(isIsoDate, "Not a date. Write holidays like 2026-12-25, one per line.")).max(MOST_HOLIDAYS),
});

export const valueTypeSchema: z.ZodType<ValueType> = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("decimal"), scale: z.number().int().min(1).max(12) }),
  z.object({ kind: z.enum(["text", "whole", "floating", "date", "timestamp", "yesno"]) }),
]) as z.ZodType<ValueType>;

/** A PNG or JPEG picture, in base64. */
export const pictureData = z
  .string()
  .max(Math.ceil(MOST_PICTURE_BYTES / 3) * 4 + 100, "The picture is larger than 500 kB. Make it smaller.")
  .regex(PICTURE_DATA, "The picture must be a PNG or a JPEG.");
