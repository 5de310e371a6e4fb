/** The words of the fields that all sections share. */
export const WORDS = {
  findARow: "Find a row",
  noSuchRow: "No such row",
  yes: "yes",
  no: "no",
  calendarOf: (label: string) => `Calendar of ${label}`,
  notADate: (typed: string, example: string) => `“${typed}” is not a date. Write it like ${example}.`,
  notANumber: (typed: string, example: string) => `“${typed}” is not a number. Write it like ${example}.`,
  fromTo: "from … to …",
  firstDayOf: (label: string) => `First day of ${label}`,
  lastDayOf: (label: string) => `Last day of ${label}`,
  previousMonth: "Previous month",
  nextMonth: "Next month",
};
