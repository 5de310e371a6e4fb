import type { RowsSql, Sql } from "@/core/query/compile";
import type { Plan } from "@/core/query/plan";
import type { ReportOutline } from "@/core/report/layOut";
import type { Page } from "@/core/report/page";
import type { ReportSpec } from "@/core/report/spec";
import type { Schema } from "@/core/schema/schema";
import type { Locale } from "@/core/types/format";
import type { Cell } from "@/core/types/valueType";
import type { ColumnSetting } from "@/server/catalogue/catalogue";
import type { MadeLink } from "./inspect";

/** What an engine process can be asked to do; each job names the database file it reads. */
export type Job =
  | { kind: "inspect"; database: string; settings: ColumnSetting[]; links: MadeLink[] }
  | { kind: "rows"; database: string; sql: RowsSql }
  | { kind: "singles"; database: string; sqls: Sql[] }
  | { kind: "csv"; database: string; plan: Plan; path: string }
  | { kind: "reportPages"; database: string; report: ReportJob; from: number; to: number }
  | { kind: "reportPdf"; database: string; report: ReportJob; path: string };

/** A report to lay out: its plan with parameters bound, and what is printed around the rows. */
export type ReportJob = { plan: Plan; spec: ReportSpec; brief: string; locale: Locale; printedAt: string };

export type FileResult = { rows: number; bytes: number; totals: Record<string, Cell> };
export type JobResult = {
  inspect: Schema;
  rows: Buffer;
  singles: Cell[][];
  csv: FileResult;
  reportPages: { pages: Page[]; outline: ReportOutline };
  reportPdf: FileResult & { pages: number };
};

/** Why a job failed, in a word the server turns into a sentence. */
export type FailureCode = "notFound" | "notDatabase" | "locked" | "tooLarge" | "diskFull" | "timeout" | "stopped" | "sql" | "crashed";

export class JobFailure extends Error {
  constructor(
    readonly code: FailureCode,
    readonly particulars = "",
  ) {
    super(FAILURE_SENTENCES[code] + (particulars ? ` (${particulars})` : ""));
    this.name = "JobFailure";
  }
}

const FAILURE_SENTENCES: Record<FailureCode, string> = {
  notFound: "The database file is missing. Put it back, or start the ledger on another file.",
  notDatabase: "The file is not a SQLite database. Choose another file.",
  locked: "Another program holds the database locked. Close it there, then try again.",
  tooLarge: "A total or a product is larger than 18 digits and was not rounded to fit. Narrow the rows or use fewer digits.",
  diskFull: "The disk is full, so nothing was written. Free some space, then run it again.",
  timeout: "This took longer than the time allowed and was stopped. Narrow it with a condition, or export it by a schedule.",
  stopped: "Stopped.",
  sql: "The database could not run this.",
  crashed: "The process that ran this ended before it was done. Try again.",
};
