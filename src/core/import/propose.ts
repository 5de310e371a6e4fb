import { humanise } from "../schema/schema";
import { DATE_ORDERS, type DateOrder } from "../types/date";
import { date, decimal, floating, text, timestamp, type ValueType, whole, yesno } from "../types/valueType";
import type { ImportColumn } from "./spec";
import { type ColumnTally, MOST_DIGITS, SAMPLES, type Sample } from "./tally";

/** Counts by digits of the numbers that are read with an affix: brackets and a minus behind go with any. */
const readWith = (tally: ColumnTally, affix: string | undefined): number[][] =>
  affix === undefined ? [] : [...new Set([affix, ""])].flatMap((a) => (Object.hasOwn(tally.affixed, a) ? [tally.affixed[a] as number[]] : []));

/** How many of a column's values a type takes. @param affix what its numbers are read with */
export function fitting(tally: ColumnTally, type: ValueType, dates: DateOrder, affix?: string): number {
  const upTo = (scale: number, of: number[][]) => of.flatMap((counts) => counts.slice(0, scale + 1)).reduce((a, b) => a + b, 0);
  const more = readWith(tally, affix);
  switch (type.kind) {
    case "text":
      return tally.filled;
    case "whole":
      return tally.wholes + upTo(0, more);
    case "decimal":
      return upTo(type.scale, [tally.digits, ...more]);
    case "floating":
      return upTo(MOST_DIGITS + 1, [tally.digits, ...more]) + tally.floatings;
    case "date":
      return tally.dates[dates];
    case "timestamp":
      return tally.timestamps[dates];
    case "yesno":
      return tally.truths;
    default:
      return type satisfies never;
  }
}

/** How many values of each column do not fit the type it is to have; none of a column that is left out. */
export const misfitsIn = (scanned: readonly { tally: ColumnTally }[], columns: readonly ImportColumn[]): number[] =>
  columns.map(({ type, dates, left, affix }, i) => {
    const tally = scanned[i]?.tally;
    return tally && !left ? tally.filled - fitting(tally, type, dates, affix) : 0;
  });

/** The first values that do not fit a column as it is to be read. */
export const samplesOf = ({ samples, affixedSamples }: ColumnTally, { type, affix }: Pick<ImportColumn, "type" | "affix">): Sample[] =>
  [...samples[type.kind], ...affixedSamples[type.kind].filter((s) => affix === undefined || (s.affix !== affix && s.affix !== ""))]
    .sort((a, b) => a.row - b.row)
    .slice(0, SAMPLES);

/** A type is proposed where at least this share of the values fits it, or all of several but one. */
const SHARE = 0.95;
const SEVERAL = 4;
const speaksFor = (fits: number, filled: number): boolean => fits >= SHARE * filled || (filled >= SEVERAL && fits >= filled - 1);

/** The digits a decimal needs so that all numbers with a point fit, short of those with more than a decimal has. */
export const scaleOfTally = (tally: ColumnTally, affix?: string): number =>
  Math.max(1, ...[tally.digits, ...readWith(tally, affix)].map((counts) => counts.slice(0, MOST_DIGITS + 1).findLastIndex((n) => n > 0)));

/**
 * The type a column's values speak for, from all of them; text where they speak for none.
 * @returns with the order of day and month, and whether the other order would do as well
 */
export function proposeType(tally: ColumnTally): { type: ValueType; dates: DateOrder; ambiguous: boolean; affix?: string } {
  const orders = [...DATE_ORDERS].sort((a, b) => tally.timestamps[b] - tally.timestamps[a] || tally.written[b] - tally.written[a]);
  const dates = orders[0] as DateOrder;
  const ambiguous = dates !== "ymd" && tally.dates.dmy === tally.dates.mdy && tally.dates.dmy > tally.dates.ymd;
  const made = (type: ValueType) => ({ type, dates, ambiguous: ambiguous && (type.kind === "date" || type.kind === "timestamp") });
  if (tally.filled === 0) return made(text);
  const plain: Candidate[] = [yesno, whole, decimal(scaleOfTally(tally)), floating, date, timestamp].map((type) => ({ type }));
  const affix = commonAffix(tally);
  const read: Candidate[] = affix === undefined ? [] : [whole, decimal(scaleOfTally(tally, affix)), floating].map((type) => ({ type, affix }));
  const fits = (c: Candidate): number => fitting(tally, c.type, dates, c.affix);
  const all = [...plain, ...read];
  const best = all.find((c) => fits(c) === tally.filled) ?? all.find((c) => speaksFor(fits(c), tally.filled)) ?? { type: text };
  return { ...made(best.type), ...(best.affix === undefined ? {} : { affix: best.affix }) };
}

type Candidate = { type: ValueType; affix?: string };

/** What stands beside most numbers of a column. */
function commonAffix({ affixed }: ColumnTally): string | undefined {
  const count = (affix: string) => (affixed[affix] ?? []).reduce((a, b) => a + b, 0);
  const [named] = Object.keys(affixed)
    .filter((affix) => affix !== "")
    .sort((a, b) => count(b) - count(a));
  return named ?? (Object.hasOwn(affixed, "") ? "" : undefined);
}

/** A file's columns as all its values speak for: each of the type proposed, none left out. */
export const columnsProposed = ({
  names,
  columns,
}: {
  names: string[];
  columns: { proposal: Pick<ReturnType<typeof proposeType>, "type" | "dates" | "affix"> }[];
}): ImportColumn[] =>
  names.map((name, i) => {
    const { type, dates, affix } = columns[i]?.proposal ?? { type: text, dates: "ymd" as const };
    return { name, type, dates, left: false, ...(affix === undefined ? {} : { affix }) };
  });

/** Names for columns out of a file's headings: empty ones are numbered, doubled ones too. */
export function columnNames(headings: string[]): { names: string[]; changed: number } {
  const used = new Set<string>();
  let changed = 0;
  const names = headings.map((heading, i) => {
    const wanted = heading.replace(/\s+/g, " ").trim().slice(0, 100) || `column ${i + 1}`;
    let name = wanted;
    for (let n = 2; used.has(name.toLowerCase()); n++) name = `${wanted} ${n}`;
    used.add(name.toLowerCase());
    if (name !== heading.trim()) changed++;
    return name;
  });
  return { names, changed };
}

/** What a table made of a file is called at first: the file's name without its ending, in small letters. */
export const tableNameOf = (file: string): string =>
  humanise(file.replace(/\.[^.]*$/, "").replace(/[^\p{L}\p{N}]+/gu, " "))
    .trim()
    .replace(/\s+/g, "_")
    .toLowerCase() || "table";
