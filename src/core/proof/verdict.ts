import { type Locale, listed, writeCount } from "../types/format";
import type { LinesCheck } from "./lines";
import type { Proof } from "./proof";

/**
 * What a proof comes to: everything agrees; it does, and something was not recounted; it does, and a total adds the same
 * values again and again; something differs.
 */
export type Verdict = "proved" | "inPart" | "repeats" | "differs";

/** The headings of totals that add a repeated value as often as it stands in the sheet. */
export const repeatingTotals = (proof: Proof): string[] => proof.repeats.filter((r) => r.counted === "every").map((r) => r.heading);

export function verdictOf(proof: Proof): Verdict {
  if (!proof.agrees) return "differs";
  if (repeatingTotals(proof).length > 0) return "repeats";
  return proof.lines?.skipped ? "inPart" : "proved";
}

export const VERDICT_WORDS: Record<Verdict, string> = {
  proved: "Proved.",
  inPart: "Proved in part.",
  repeats: "Agrees, with repeats.",
  differs: "Does not agree.",
};

/** What agrees: rows, totals, lines, and which numbers within rounding only. */
export function heldWords(proof: Proof, locale: Locale): string {
  const floating = proof.totals.filter((t) => t.within > 0).map((t) => t.heading);
  const what = `${proof.groups === null ? "rows" : "rows, groups"}${proof.totals.length > 0 ? " and totals" : ""}${proof.lines?.lines ? ", and the same values in every row" : ""}`;
  const within = floating.length > 0 ? ` ${listed(floating, locale)}: floating numbers, equal within rounding.` : "";
  return `A recount, row by row and without the query’s SQL, gives the same ${what}.${within}`;
}

/** What of the sheet's lines was not recounted, and why; empty where all was. */
export function notRecountedWords(check: LinesCheck | null, locale: Locale): string {
  if (!check?.skipped) return "";
  const what = check.headings.length > 0 ? listed(check.headings, locale) : "which rows come first";
  const why =
    check.skipped.why === "many" ? `there are more than ${writeCount(check.skipped.most, locale)} rows` : "rounding of floating numbers can change the order";
  return ` Not recounted: ${what}, because ${why}.`;
}
