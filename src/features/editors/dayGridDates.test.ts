import { expect, it } from "vitest";
import { addDays } from "@/core/types/date";
import { dateOfIso, isoOfDate } from "./dayGridDates";

it("a day of the calendar is the day that was meant, through every change of clocks", () => {
  for (let day = "2025-12-25"; day < "2027-01-05"; day = addDays(day, 1)) expect(isoOfDate(dateOfIso(day))).toBe(day);
  for (const day of ["0099-01-01", "1899-12-31", "2024-02-29", "9999-12-31"]) expect(isoOfDate(dateOfIso(day))).toBe(day);
});
