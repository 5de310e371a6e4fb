"use client";

import { USUAL_CALENDAR } from "@/core/types/calendar";
import { RELATIVE_PERIOD_NAMES, RELATIVE_PERIODS, readStretch, stretchText } from "@/core/types/stretch";
import { date } from "@/core/types/valueType";
import { useWays } from "../workspace/ways";
import { TypedInput } from "./TypedInput";
import { WORDS } from "./words";

const OWN = "own";

const laterOf = (a: string, b: string): string => (a.localeCompare(b) < 0 ? b : a);

/**
 * A period of days: one relative to today, or a first and a last day.
 * @param value as it is kept (types/stretch.ts)
 */
export function PeriodInput({ value, label, onChange }: { value: string; label: string; onChange: (next: string) => void }) {
  const { day, weekStart, yearStart } = useWays();
  const own = value.includes("/");
  const [start = "", end = ""] = own ? value.split("/") : [];
  return (
    <span className="flex flex-wrap gap-1 *:min-w-36 *:flex-1">
      <select
        className="field"
        aria-label={label}
        value={own ? OWN : value}
        onChange={(e) => {
          // Days of one's own begin with those of what was chosen before.
          const before = readStretch(value, { day, calendar: { ...USUAL_CALENDAR, weekStart, yearStart } }) ?? { start: day, end: day };
          onChange(e.target.value === OWN ? stretchText(before) : e.target.value);
        }}
      >
        <option value="">–</option>
        {RELATIVE_PERIOD_NAMES.map((name) => (
          <option key={name} value={name}>
            {RELATIVE_PERIODS[name].words}
          </option>
        ))}
        <option value={OWN}>{WORDS.fromTo}</option>
      </select>
      {own && (
        <>
          <TypedInput
            type={date}
            label={WORDS.firstDayOf(label)}
            value={start}
            onChange={(next) => next !== "" && onChange(stretchText({ start: next, end: laterOf(end, next) }))}
          />
          <TypedInput type={date} label={WORDS.lastDayOf(label)} value={end} onChange={(next) => next !== "" && onChange(stretchText({ start, end: next }))} />
        </>
      )}
    </span>
  );
}
