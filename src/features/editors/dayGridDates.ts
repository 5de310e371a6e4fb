import type { IsoDate } from "@/core/types/date";

/** A day as the calendar has it: noon by the browser's clock, which no change of clocks moves into another day. */
export function dateOfIso(day: IsoDate): Date {
  const [year = 0, month = 1, date = 1] = day.split("-").map(Number);
  const made = new Date(2000, 0, 1, 12);
  made.setFullYear(year, month - 1, date);
  return made;
}

/** The inverse of dateOfIso. */
export const isoOfDate = (date: Date): IsoDate =>
  [String(date.getFullYear()).padStart(4, "0"), date.getMonth() + 1, date.getDate()].map((part) => String(part).padStart(2, "0")).join("-");
