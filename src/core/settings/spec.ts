import { z } from "zod";
import { PAPERS } from "../report/spec";
import { isZone } from "../types/date";

/** Whether numbers and dates can be written in a locale. @param locale BCP 47 */
export function isLocale(locale: string): boolean {
  try {
    return Intl.getCanonicalLocales(locale).length === 1 && Intl.NumberFormat.supportedLocalesOf(locale).length === 1;
  } catch {
    return false;
  }
}

/** The workspace's settings: what its pages, letters and files are written by. */
export const settingsSchema = z.object({
  /** Who letters are from, and what stands on the desk. */
  company: z.string().trim().min(1, "Enter the name of the company.").max(200),
  locale: z.string().refine(isLocale, "Unknown locale. Write it like en-GB."),
  zone: z.string().refine(isZone, "Unknown time zone. Write it like Europe/Paris."),
  /** What new reports and letters are laid out on. */
  paper: z.enum(Object.keys(PAPERS) as [keyof typeof PAPERS, ...(keyof typeof PAPERS)[]]),
});
export type Settings = z.infer<typeof settingsSchema>;

/** Locales that are offered; any other that is known may be typed. */
export const LOCALES = [
  "en-GB",
  "en-IE",
  "en-US",
  "cs-CZ",
  "da-DK",
  "de-AT",
  "de-CH",
  "de-DE",
  "es-ES",
  "fi-FI",
  "fr-BE",
  "fr-FR",
  "it-IT",
  "ja-JP",
  "nb-NO",
  "nl-NL",
  "pl-PL",
  "pt-PT",
  "sv-SE",
];
