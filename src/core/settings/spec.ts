import { z } from "zod";
import { PAPERS } from "../report/choices";
import { isZone } from "../types/date";
import { calendarSchema } from "../types/schemas";
import { isLocale } from "./locales";

/** Whether amounts can be in a currency. @param code ISO 4217 */
export const isCurrency = (code: string): boolean => Intl.supportedValuesOf("currency").includes(code);

/** Characters of a logo at most, as a data URL: about 200 kB. */
const LARGEST_LOGO = 280_000;

/** The first bytes of a picture by its type, in base64 (ISO/IEC 15948, ISO/IEC 10918-1). A drawing with scripts in it is none. */
const PICTURE = /^data:image\/(?:png;base64,iVBORw0KGgo|jpeg;base64,\/9j\/)[A-Za-z0-9+/]*={0,2}$/;

/** The workspace's settings: what its pages, letters and files are written by. */
export const settingsSchema = z.object({
  /** Who letters are from, and what stands on the desk. */
  company: z.string().trim().min(1, "Enter the name of the company.").max(200),
  /** A picture shown beside the company's name, as a data URL; null for none. */
  logo: z.string().max(LARGEST_LOGO, "The logo is too large: 200 kB at most.").regex(PICTURE, "The logo must be a PNG or JPEG picture.").nullable(),
  locale: z.string().refine(isLocale, "Unknown locale. Write it like en-GB."),
  zone: z.string().refine(isZone, "Unknown time zone. Write it like Europe/Paris."),
  /** The currency new amounts are in (ISO 4217). */
  currency: z.string().refine(isCurrency, "Unknown currency. Write its code, like EUR."),
  calendar: calendarSchema,
  /** What new reports and letters are laid out on. */
  paper: z.enum(Object.keys(PAPERS) as [keyof typeof PAPERS, ...(keyof typeof PAPERS)[]]),
});
export type Settings = z.infer<typeof settingsSchema>;
