"use client";

import { useMemo } from "react";
import { DayPicker } from "react-day-picker";
import { isIsoDate } from "@/core/types/date";
import { useLocale } from "../workspace/locale";
import { useWays } from "../workspace/ways";
import { dateOfIso, isoOfDate } from "./dayGridDates";
import { WORDS } from "./words";

const CLASSES = {
  months: "relative",
  nav: "absolute inset-x-0 top-0 flex justify-between",
  button_previous: "small-button",
  button_next: "small-button",
  chevron: "size-4 fill-current",
  month_caption: "flex h-7 items-center justify-center pb-1 font-semibold",
  weekday: "size-8 text-tiny font-normal text-soft",
  day: "size-8 p-0 text-center tabular-nums",
  day_button: "size-8 rounded hover:bg-bottle-tint",
  today: "font-semibold underline",
  selected: "rounded bg-bottle text-on-fill",
  outside: "text-faint",
};

/** A month of days to choose from, its weeks beginning on the workspace's day, in its language. */
export default function DayGrid({ day, choose, focused = true }: { day: string; choose: (day: string) => void; focused?: boolean }) {
  const { locale } = useLocale();
  const { day: today, weekStart } = useWays();
  const write = useMemo(() => {
    const writer = (options: Intl.DateTimeFormatOptions) => {
      const format = new Intl.DateTimeFormat(locale, options);
      return (date: Date) => format.format(date);
    };
    return {
      month: writer({ month: "long", year: "numeric" }),
      weekday: writer({ weekday: "short" }),
      weekdayName: writer({ weekday: "long" }),
      day: writer({ dateStyle: "full" }),
    };
  }, [locale]);
  const chosen = isIsoDate(day) ? dateOfIso(day) : undefined;
  return (
    <DayPicker
      mode="single"
      required
      autoFocus={focused}
      showOutsideDays
      selected={chosen}
      defaultMonth={chosen ?? dateOfIso(today)}
      today={dateOfIso(today)}
      weekStartsOn={(weekStart % 7) as 0 | 1 | 2 | 3 | 4 | 5 | 6}
      onSelect={(date: Date) => choose(isoOfDate(date))}
      classNames={CLASSES}
      formatters={{ formatCaption: write.month, formatWeekdayName: write.weekday }}
      labels={{
        labelGrid: write.month,
        labelWeekday: write.weekdayName,
        labelDayButton: write.day,
        labelPrevious: () => WORDS.previousMonth,
        labelNext: () => WORDS.nextMonth,
      }}
    />
  );
}
