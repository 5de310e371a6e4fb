/** Whether numbers and dates can be written in a locale. @param locale BCP 47 */
export function isLocale(locale: string): boolean {
  try {
    return Intl.getCanonicalLocales(locale).length === 1 && Intl.NumberFormat.supportedLocalesOf(locale).length === 1;
  } catch {
    return false;
  }
}

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
