"use client";

import { useState } from "react";
import type { CellDeed } from "@/core/query/fromCell";
import { keyText, showsNames } from "@/core/query/namedRows";
import type { PlanColumn } from "@/core/query/plan";
import type { Band, Profile } from "@/core/query/profile";
import { cellWriter, writeCount } from "@/core/types/format";
import type { Cell } from "@/core/types/valueType";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import type { Question } from "./questions";
import { namedWriter, useRowNames } from "./useRowNames";
import { WORDS } from "./words";

type Props = {
  column: PlanColumn;
  question: Question;
  /** Asks for values of the column in a condition. */
  pickValues: (cells: Cell[], deed: CellDeed) => void;
  pickBand: (band: Band) => void;
};

/** What stands in a column: its values counted, the most frequent ones, how they are spread; values are picked into a condition. */
export function ColumnProfile({ column, question, pickValues, pickBand }: Props) {
  const locale = useLocale();
  const { answer: profile, failure } = useAnswer<Profile>("/api/query/profile", { ...question, column: column.id }, { settleMs: 0 });
  const keys = profile?.frequent.flatMap(({ value }) => keyText(value, column.type) ?? []) ?? [];
  const nameOf = useRowNames(column.rowOf === undefined || keys.length === 0 ? [] : [{ table: column.rowOf, keys }]);
  const write = namedWriter(column, cellWriter(column.type, column.format, locale), nameOf);
  if (failure) return <p className="pb-2 text-small text-vermilion">{failure.message}</p>;
  if (!profile) return <p className="h-24 pb-2 text-small text-soft">{COMMON.counting}</p>;
  const count = (n: number) => writeCount(n, locale);
  const ends = profile.least === null || showsNames(column) ? "" : WORDS.fromTo(write(profile.least).text, write(profile.greatest).text);
  const repeats = profile.frequent.some((f) => f.rows > 1);
  return (
    <div className="grid gap-2 pb-2" data-testid="profile">
      <p className="text-small text-soft">
        {WORDS.profileOf(count(profile.filled), count(profile.rows - profile.filled), count(profile.different))}
        {ends && <span className="block">{ends}</span>}
      </p>
      {profile.bands.length > 1 && !showsNames(column) && <Bands {...{ profile, column, pick: pickBand }} />}
      {repeats && (profile.bands.length === 0 || showsNames(column) || profile.different <= 2 * profile.frequent.length) && (
        <Frequent profile={profile} write={(cell) => write(cell).text} pick={pickValues} />
      )}
    </div>
  );
}

/** How long the bar of a count is, of the longest. */
const share = (rows: number, all: number[]): string => `${(100 * rows) / Math.max(1, ...all)}%`;

const BAR = "h-2 rounded-xs bg-bottle";
const LINE = "grid w-full grid-cols-[minmax(0,1fr)_4.5rem_3rem] items-center gap-2 rounded px-1 text-left text-small hover:bg-bottle-tint";

/** How the values of a column are spread: each band is picked as a condition. */
function Bands({ profile: { bands, bandFormat }, column, pick }: { profile: Profile; column: PlanColumn; pick: (band: Band) => void }) {
  const locale = useLocale();
  const rows = bands.map((b) => b.rows);
  // Round ends need no digits after the point.
  const decimals = bands.every((b) => /^-?\d+(\.0*)?$/.test(b.from)) ? { decimals: 0 } : {};
  const write = cellWriter(column.type, { ...column.format, ...bandFormat, ...decimals }, locale);
  return (
    <ul aria-label={WORDS.spreadOf(column.heading)}>
      {bands.map((band) => (
        <li key={band.from}>
          <button type="button" className={LINE} title={WORDS.onlyThese} onClick={() => pick(band)}>
            <span className="truncate tabular-nums">{write(band.value).text}</span>
            <span className={BAR} style={{ width: share(band.rows, rows) }} />
            <span className="text-right tabular-nums">{writeCount(band.rows, locale)}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

type FrequentProps = { profile: Profile; write: (cell: Cell) => string; pick: (cells: Cell[], deed: CellDeed) => void };

/** The most frequent values: those ticked are kept or left out by a condition. */
function Frequent({ profile: { frequent }, write, pick }: FrequentProps) {
  const locale = useLocale();
  const [ticked, setTicked] = useState<Cell[]>([]);
  const rows = frequent.map((f) => f.rows);
  return (
    <div>
      <ul aria-label={WORDS.mostFrequent}>
        {frequent.map(({ value, rows: n }) => (
          <li key={String(value)}>
            <label className={LINE}>
              <span className="flex min-w-0 gap-2">
                <input
                  type="checkbox"
                  className="accent-bottle"
                  checked={ticked.includes(value)}
                  onChange={(e) => setTicked(e.target.checked ? [...ticked, value] : ticked.filter((t) => t !== value))}
                />
                <span className="truncate">{write(value)}</span>
              </span>
              <span className={BAR} style={{ width: share(n, rows) }} />
              <span className="text-right tabular-nums">{writeCount(n, locale)}</span>
            </label>
          </li>
        ))}
      </ul>
      {ticked.length > 0 && (
        <span className="flex gap-4 pt-1">
          <button type="button" className="link" onClick={() => pick(ticked, "keep")}>
            {WORDS.keepOnly}
          </button>
          <button type="button" className="link" onClick={() => pick(ticked, "leaveOut")}>
            {WORDS.leaveOut}
          </button>
        </span>
      )}
    </div>
  );
}
