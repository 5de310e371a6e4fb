"use client";

import type { Calendar } from "@/core/types/calendar";
import { date } from "@/core/types/valueType";
import { TypedLines } from "../editors/TypedLines";
import { Group, Labelled } from "./parts";
import { WORDS } from "./words";

/** The seven days by ISO 8601, as a locale calls them; 1 January 2024 was a Monday. */
const weekdays = (locale: string) => {
  const name = new Intl.DateTimeFormat(locale, { weekday: "long", timeZone: "UTC" });
  return Array.from({ length: 7 }, (_, i) => ({ day: i + 1, words: name.format(Date.UTC(2024, 0, i + 1)) }));
};

const months = (locale: string) => {
  const name = new Intl.DateTimeFormat(locale, { month: "long", timeZone: "UTC" });
  return Array.from({ length: 12 }, (_, i) => ({ month: String(i + 1).padStart(2, "0"), words: name.format(Date.UTC(2024, i, 1)) }));
};

const DAYS = Array.from({ length: 31 }, (_, i) => String(i + 1).padStart(2, "0"));

/** How the workspace divides its time: weeks, business years, the days it works. */
export function CalendarSettings({ calendar, locale, onChange }: { calendar: Calendar; locale: string; onChange: (next: Calendar) => void }) {
  const { weekStart, yearStart, workingDays, holidays } = calendar;
  const set = (change: Partial<Calendar>) => onChange({ ...calendar, ...change });
  const [month = "01", day = "01"] = yearStart.split("-");
  return (
    <>
      <Labelled words={WORDS.weekStart}>
        <select className="field max-w-40" value={weekStart} onChange={(e) => set({ weekStart: Number(e.target.value) })}>
          {weekdays(locale).map((d) => (
            <option key={d.day} value={d.day}>
              {d.words}
            </option>
          ))}
        </select>
      </Labelled>
      <Group words={WORDS.businessYear}>
        <span className="flex gap-2">
          <select className="field max-w-20" aria-label={WORDS.businessYearDay} value={day} onChange={(e) => set({ yearStart: `${month}-${e.target.value}` })}>
            {DAYS.map((d) => (
              <option key={d} value={d}>
                {Number(d)}
              </option>
            ))}
          </select>
          <select
            className="field max-w-40"
            aria-label={WORDS.businessYearMonth}
            value={month}
            onChange={(e) => set({ yearStart: `${e.target.value}-${day}` })}
          >
            {months(locale).map((m) => (
              <option key={m.month} value={m.month}>
                {m.words}
              </option>
            ))}
          </select>
        </span>
      </Group>
      <Group words={WORDS.workingDays}>
        <span className="flex flex-wrap gap-x-4 gap-y-1">
          {weekdays(locale).map((d) => (
            <label key={d.day} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                className="accent-bottle"
                checked={workingDays.includes(d.day)}
                onChange={(e) => set({ workingDays: e.target.checked ? [...workingDays, d.day].toSorted() : workingDays.filter((w) => w !== d.day) })}
              />
              {d.words}
            </label>
          ))}
        </span>
      </Group>
      <Group words={WORDS.holidays}>
        <span className="grid max-w-56 gap-1">
          <TypedLines
            type={date}
            label={WORDS.holidaysOnePerLine}
            values={holidays}
            onChange={(lines) => set({ holidays: lines.filter((l) => l.trim() !== "") })}
          />
          <span className="text-small text-soft">{WORDS.holidaysAbout}</span>
        </span>
      </Group>
    </>
  );
}
