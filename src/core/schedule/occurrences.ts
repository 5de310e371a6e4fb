import { RRuleTemporal } from "rrule-temporal";
import { type Calendar, isWorkingDay, lastWorkingDay } from "../types/calendar";
import type { IsoDate } from "../types/date";
import type { ScheduleRule, ScheduleSpec } from "./spec";

const DAY_CODES = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"] as const;

/**
 * The RFC 5545 recurrence rule of a schedule. A day of the month that a month lacks falls on its last day. Which days are
 * worked is the calendar's, not the rule's: such schedules recur daily, and `fallsOn` keeps the days that count.
 * @example recurrenceRule({ kind: "weekdays", days: [1, 5] }) // "FREQ=WEEKLY;BYDAY=MO,FR"
 */
export function recurrenceRule(rule: ScheduleRule): string {
  switch (rule.kind) {
    case "daily":
    case "workingDays":
    case "lastWorkingDay":
      return "FREQ=DAILY";
    case "weekdays":
      return `FREQ=WEEKLY;BYDAY=${[...rule.days]
        .sort()
        .map((d) => DAY_CODES[d - 1])
        .join(",")}`;
    case "monthDay": {
      if (rule.day <= 28) return `FREQ=MONTHLY;BYMONTHDAY=${rule.day}`;
      const days = Array.from({ length: rule.day - 27 }, (_, i) => 28 + i);
      return `FREQ=MONTHLY;BYMONTHDAY=${days.join(",")};BYSETPOS=-1`;
    }
    default:
      return rule satisfies never;
  }
}

/** Whether a rule's day counts by the calendar. A month without a working day has no last one. */
function fallsOn(rule: ScheduleRule, day: IsoDate, calendar: Calendar): boolean {
  if (rule.kind === "workingDays") return isWorkingDay(day, calendar);
  if (rule.kind === "lastWorkingDay") return day === lastWorkingDay(day, calendar);
  return true;
}

/**
 * The instants of a rule after one instant and up to another. The rule is laid on days, and each day's time is then
 * found in the zone: a time the clocks skip is made at the same offset as before (02:30 becomes 03:30), and of a
 * time that comes twice the first is taken, so a daily run is neither missed nor made twice.
 * @param rule an RFC 5545 rule of whole days, without the time
 * @param from an instant; occurrences at or before it are left out
 * @param counts whether one of the rule's days is one of the schedule's
 * @example occurrencesOf("FREQ=DAILY", "07:00", "Europe/Paris", a, b)
 */
export function occurrencesOf(rule: string, time: string, zone: string, from: Date, to: Date, counts: (day: IsoDate) => boolean = () => true): Date[] {
  const day = (instant: Date, shift: number) => new Date(instant.getTime() + shift * 86_400_000).toISOString().slice(0, 10).replaceAll("-", "");
  // Anchored on the first of the month a month before, so that no rule of days or months has begun too late.
  const anchor = `${day(from, -40).slice(0, 6)}01`;
  const days = new RRuleTemporal({ rruleString: `DTSTART;TZID=UTC:${anchor}T000000\nRRULE:${rule}` });
  return days
    .between(new Date(from.getTime() - 2 * 86_400_000), new Date(to.getTime() + 2 * 86_400_000), true)
    .map((found) => found.toPlainDate().toString())
    .filter(counts)
    .map((day) => instantIn(zone, day, time))
    .filter((instant) => instant > from && instant <= to);
}

/** The occurrences of a schedule after an instant and up to another, none before the schedule was made. */
export function scheduleOccurrences(spec: ScheduleSpec, calendar: Calendar, from: Date, to: Date): Date[] {
  const since = new Date(spec.since);
  return occurrencesOf(recurrenceRule(spec.rule), spec.time, spec.zone, from > since ? from : since, to, (day) => fallsOn(spec.rule, day, calendar));
}

/** The offset of a zone from UTC at an instant, in milliseconds. */
function offsetAt(zone: string, instant: number): number {
  const parts = new Intl.DateTimeFormat("en-US", {
    timeZone: zone,
    hourCycle: "h23",
    year: "numeric",
    month: "numeric",
    day: "numeric",
    hour: "numeric",
    minute: "numeric",
    second: "numeric",
  }).formatToParts(instant);
  const at = (type: string) => Number(parts.find((p) => p.type === type)?.value);
  return Date.UTC(at("year"), at("month") - 1, at("day"), at("hour"), at("minute"), at("second")) - Math.floor(instant / 1000) * 1000;
}

/**
 * The instant of a local time in a zone, by the offset that held the day before where the clocks leave a choice
 * (the reading of RFC 5545, 3.3.5: a skipped time uses the offset before the gap; a doubled one is its first).
 */
export function instantIn(zone: string, date: string, time: string): Date {
  const local = Date.parse(`${date}T${time}:00Z`);
  const before = offsetAt(zone, local - 86_400_000);
  const after = offsetAt(zone, local + 86_400_000);
  const first = local - before;
  if (offsetAt(zone, first) === before) return new Date(first);
  const second = local - after;
  return new Date(offsetAt(zone, second) === after ? second : first);
}
