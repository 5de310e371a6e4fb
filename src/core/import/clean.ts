import { initcap } from "../types/text";
import type { CLEAN_CASES } from "./choices";
import { columnsProposed } from "./propose";
import type { Clean, ImportColumn } from "./spec";

const CASES: Record<(typeof CLEAN_CASES)[number], (text: string) => string> = {
  upper: (text) => text.toUpperCase(),
  lower: (text) => text.toLowerCase(),
  title: initcap,
};

/** Whether a column is cleaned at all. */
export const isCleaned = (clean: Clean | undefined): boolean =>
  clean !== undefined && (clean.trim === true || clean.case !== undefined || clean.down === true || (clean.mapped ?? []).length > 0);

/**
 * Cleans the values of one column, one after the other: spaces first, then values that mean others, then capitals; an empty one is filled
 * down last.
 */
function valueCleaner({ trim, case: written, mapped = [], down }: Clean): (source: string) => string {
  const meant = new Map(mapped.map((m) => [m.written, m.text]));
  let above = "";
  return (source) => {
    const bare = trim ? source.trim().replace(/\s+/gu, " ") : source;
    const mappedTo = meant.get(bare) ?? bare;
    const made = written ? CASES[written](mappedTo) : mappedTo;
    if (!down) return made;
    if (made.trim() !== "") above = made;
    return made.trim() === "" ? above : made;
  };
}

/**
 * Cleans the rows of a file in their order, before anything is made of them.
 * @param columns how each column is cleaned; where nothing is said it stays to the letter
 */
export function rowCleaner(columns: (Clean | undefined)[]): (record: string[]) => string[] {
  const cleaners = columns.flatMap((clean, i) => (clean && isCleaned(clean) ? [{ i, clean: valueCleaner(clean) }] : []));
  if (cleaners.length === 0) return (record) => record;
  return (record) => {
    const made = [...record];
    for (const { i, clean } of cleaners) made[i] = clean(record[i] ?? "");
    return made;
  };
}

/** A column cleaned otherwise; what says no more than nothing goes. */
export function withClean(clean: Clean | undefined, change: Partial<Clean>): Clean | undefined {
  const next = Object.fromEntries(Object.entries({ ...clean, ...change }).filter(([, value]) => value !== undefined && value !== false)) as Clean;
  return isCleaned(next) ? next : undefined;
}

/** The columns of a file, one of them cleaned otherwise. */
export const withColumnClean = (columns: ImportColumn[], at: number, clean: Clean | undefined): ImportColumn[] =>
  columns.map(({ clean: before, ...column }, i) => {
    const kept = i === at ? clean : before;
    return kept ? { ...column, clean: kept } : column;
  });

type Scanned = Parameters<typeof columnsProposed>[0];

/** The columns after the file was read again: one that has the type it was proposed has the one that is proposed now. */
export function proposedAgain(columns: ImportColumn[], at: number, before: Scanned, after: Scanned): ImportColumn[] {
  const [was, is] = [columnsProposed(before)[at], columnsProposed(after)[at]];
  return columns.map((column, i) => {
    if (i !== at || !was || !is || JSON.stringify([column.type, column.affix]) !== JSON.stringify([was.type, was.affix])) return column;
    const { affix: _, ...kept } = column;
    return { ...kept, type: is.type, dates: is.dates, ...(is.affix === undefined ? {} : { affix: is.affix }) };
  });
}
