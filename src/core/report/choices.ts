/** Sheets of paper in mm: ISO 216:2007 (A and B series), ANSI/ASME Y14.1 sizes of US trade. */
export const PAPERS = {
  A3: { width: 297, height: 420 },
  A4: { width: 210, height: 297 },
  A5: { width: 148, height: 210 },
  A6: { width: 105, height: 148 },
  B4: { width: 250, height: 353 },
  B5: { width: 176, height: 250 },
  Letter: { width: 215.9, height: 279.4 },
  Legal: { width: 215.9, height: 355.6 },
  Tabloid: { width: 279.4, height: 431.8 },
} as const;
export type PaperName = keyof typeof PAPERS;
export const PAPER_NAMES = Object.keys(PAPERS) as [PaperName, ...PaperName[]];

/** What a report can work out of a column from the rows beside it. */
export const REPORT_WINDOWS = ["running", "share", "difference", "change", "rank"] as const;

/** The files a report can be made into: its pages, a workbook, its rows and its footings as delimited text. */
export const REPORT_FORMATS = ["pdf", "html", "xlsx", "csv", "totals"] as const;
export type ReportFormat = (typeof REPORT_FORMATS)[number];

/** The grand level, which every row is in. */
export const GRAND = "";

/** Colours a rule can mark a value with; never by colour alone: a sign stands with it. */
export const MARK_TONES = ["vermilion", "ochre", "green"] as const;

/** Rows of a related table that are printed for one row or group at the most: a thousand pages. */
export const MOST_RELATED = 50_000;
