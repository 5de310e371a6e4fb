import type { Desk } from "./server";

/* What is read on the page of a question, and how its figures are written there. */

export const written = (value: unknown): string => Number(value).toLocaleString("en-GB");
export const euros = (cents: unknown): string => (Number(cents) / 100).toLocaleString("en-GB", { minimumFractionDigits: 2 });
export const proved = (desk: Desk): Promise<string> => desk.reads("aside", "Proved.");
/** The brief, word for word. */
export const brief = (desk: Desk, words: string | RegExp): Promise<string> => desk.reads("main p, section p", words);
