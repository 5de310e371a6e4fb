import type { Locale } from "@/core/types/format";

/** Words one after the other, as a language lists them. */
export const listed = (words: string[], { locale }: Locale): string => new Intl.ListFormat(locale, { type: "conjunction" }).format(words);
