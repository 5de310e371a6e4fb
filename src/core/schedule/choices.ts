import { CHART_FORMATS } from "../chart/choices";
import { DASHBOARD_FORMATS } from "../dashboard/choices";
import { LETTER_FORMATS } from "../letter/choices";
import { PIVOT_FORMATS } from "../pivot/choices";

export const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"] as const;

export const ROW_FORMATS = ["csv", "tsv", "xlsx", "json", "ndjson"] as const;

/** The formats that take a query's rows one by one. */
export type RowFormat = (typeof ROW_FORMATS)[number];

export const FORMATS = ["pdf", "html", "zip", "png", ...ROW_FORMATS] as const;

export type Format = (typeof FORMATS)[number];

export const SUBJECTS = ["query", "report", "pivot", "chart", "dashboard", "letter", "posting"] as const;

export type SubjectKind = (typeof SUBJECTS)[number];

/** The files each kind of subject can be made into; the first is what a new schedule begins with. */
export const SUBJECT_FORMATS: Record<SubjectKind, readonly Format[]> = {
  query: ["csv", "tsv", "xlsx", "json", "ndjson", "pdf"],
  report: ["pdf", "html", "xlsx", "csv", "tsv", "json", "ndjson"],
  pivot: PIVOT_FORMATS.toReversed(),
  chart: ["pdf", ...CHART_FORMATS.filter((f) => f !== "pdf")],
  dashboard: DASHBOARD_FORMATS,
  letter: LETTER_FORMATS,
  // What became of each row.
  posting: ROW_FORMATS,
};
