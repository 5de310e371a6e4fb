"use client";

import { useMemo } from "react";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** Writes an instant as day and time of the workspace. */
export function useMoment(): (iso: string) => string {
  const { locale, zone } = useLocale();
  return useMemo(() => {
    const format = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "short", timeZone: zone });
    return (iso: string) => format.format(new Date(iso));
  }, [locale, zone]);
}

/** Bytes in kilobytes, for people. */
export const sizeOf = (bytes: number, locale: string): string => new Intl.NumberFormat(locale, { maximumFractionDigits: 1 }).format(bytes / 1000);

/** What kind of file it is, in a word: its extension, or that it is a message. */
export function fileKind(name: string): string {
  const extension = name.split(".").at(-1) ?? "";
  return extension === "eml" ? WORDS.message : extension.toUpperCase();
}
