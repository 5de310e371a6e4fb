/** The words of the fields that all sections share. */
export const WORDS = {
  yes: "yes",
  no: "no",
  calendarOf: (label: string) => `Calendar of ${label}`,
  notADate: (example: string) => `Not a date. Write it like ${example}.`,
  notANumber: (example: string) => `Not a number. Write it like ${example}.`,
  previousMonth: "Previous month",
  nextMonth: "Next month",
};
