import type { ChartFormat } from "@/core/chart/choices";
import type { ChartPlan } from "@/core/chart/plan";
import type { ChartSpec } from "@/core/chart/spec";
import type { DashboardFormat } from "@/core/dashboard/choices";
import type { DashboardSpec, PlainTile } from "@/core/dashboard/spec";
import type { FileFormat, ImportSpec } from "@/core/import/spec";
import type { LetterFormat } from "@/core/letter/choices";
import type { LetterPlan } from "@/core/letter/plan";
import type { LetterSpec } from "@/core/letter/spec";
import type { PivotFormat } from "@/core/pivot/choices";
import type { PivotPlan } from "@/core/pivot/plan";
import type { PivotRecount } from "@/core/pivot/seal";
import type { PivotSpec } from "@/core/pivot/spec";
import type { PostingPlan, TableLinks } from "@/core/posting/plan";
import type { Proof } from "@/core/proof/proof";
import type { RowsSql, Sql } from "@/core/query/compile";
import type { RunContext } from "@/core/query/operands";
import type { Plan } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import type { ReportOutline } from "@/core/report/layOut";
import type { Page } from "@/core/report/page";
import type { ReportSpec } from "@/core/report/spec";
import type { RowFormat } from "@/core/schedule/choices";
import type { LinkSpec } from "@/core/schema/linkSpec";
import type { Schema, Table } from "@/core/schema/schema";
import type { Locale } from "@/core/types/format";
import type { Cell } from "@/core/types/valueType";
import type { ColumnSetting } from "@/server/catalogue/catalogue";
import type { TileAnswer } from "@/server/dashboards/service";
import type { Imported } from "@/server/import/run";
import type { Scan } from "@/server/import/scan";
import type { LetterSurvey } from "@/server/letters/run";
import type { LinkEvidence, LinkSuggestion } from "@/server/links/evidence";
import type { Edited, RowEdit } from "@/server/posting/edit";
import type { Entry } from "@/server/posting/journal";
import type { Tally } from "@/server/posting/outcome";
import type { Reversal } from "@/server/posting/reverse";
import type { NewEntry } from "@/server/posting/run";
import type { MadeLink } from "./inspect";

/** What an engine process can be asked to do; each job names the database file it reads. */
export type Job =
  | { kind: "inspect"; database: string; settings: ColumnSetting[]; links: MadeLink[]; skip: number[] }
  | { kind: "rows"; database: string; sql: RowsSql }
  | { kind: "singles"; database: string; sqls: Sql[] }
  | { kind: "proof"; database: string; plan: Plan; figure: string | null }
  | { kind: "pivot"; database: string; pivot: PivotJob }
  | { kind: "pivotRecount"; database: string; pivot: PivotJob }
  | { kind: "pivotFile"; database: string; pivot: PivotJob; file: PivotFile }
  | { kind: "chart"; database: string; chart: ChartJob }
  | { kind: "chartFile"; database: string; chart: ChartJob; file: ChartFile }
  | { kind: "letterPages"; database: string; letter: LetterJob; at: number }
  | { kind: "letterSurvey"; database: string; letter: LetterJob }
  | { kind: "letterFile"; database: string; letter: LetterJob; file: LetterFile }
  | ({ kind: "dashboardFile" } & DashboardJob)
  | {
      kind: "export";
      format: RowFormat;
      database: string;
      plan: Plan;
      path: string /** no text is taken for a formula by a sheet program */;
      guarded?: boolean;
    }
  | { kind: "stageQuery"; database: string; plan: Plan; path: string }
  | { kind: "postingPreview"; database: string; posting: PostingJob; path: string }
  | { kind: "post"; database: string; posting: PostingJob; digest: string; entry: NewEntry }
  | { kind: "reversalPreview"; database: string; schema: Schema; number: number; force: boolean; path: string }
  | { kind: "reverse"; database: string; schema: Schema; number: number; force: boolean; digest: string; entry: Omit<NewEntry, "table"> }
  | { kind: "edit"; database: string; table: Table; links: TableLinks; change: RowEdit; entry: NewEntry }
  | { kind: "previewRows"; path: string; outcomes: string[]; offset: number; rows: number; backwards: boolean }
  | { kind: "suggestLinks"; database: string; schema: Schema; table: string | null }
  | { kind: "linkEvidence"; database: string; spec: LinkSpec }
  | { kind: "scanFile"; path: string; name: string; format: FileFormat | null }
  | { kind: "importFile"; path: string; spec: ImportSpec; into: { kind: "table"; database: string; entry: NewEntry } | { kind: "stage"; path: string } }
  /** The whole journal, as far back as it is listed; or one entry, however old. */
  | { kind: "journal"; database: string; number: number | null }
  | { kind: "reportPages"; database: string; report: ReportJob; from: number; to: number }
  | { kind: "reportGlance"; database: string; report: ReportJob }
  | { kind: "reportPdf"; database: string; report: ReportJob; path: string };

/** A report to lay out: its plan with parameters bound, and what is printed around the rows. */
export type ReportJob = { plan: Plan; spec: ReportSpec; brief: string; locale: Locale; printedAt: string; closing: ClosingJob[] };

/** A pivot or a chart printed after a report's rows. */
export type ClosingJob = { title: string; brief: string } & (
  | { kind: "pivot"; pivot: PivotJob; spec: PivotSpec }
  | { kind: "chart"; chart: ChartJob; chosen: Record<string, number> }
);

/** A pivot to work out: its plan with parameters bound, and the locale that orders its texts. */
export type PivotJob = { plan: PivotPlan; locale: Locale };

/** A file of a pivot: its description says how headings stand, its title and brief are printed above. */
export type PivotFile = { format: PivotFormat; path: string; spec: PivotSpec; title: string; brief: string; printedAt: string };

/** A chart to work out, and the same about an earlier time where it is held against one. */
export type ChartJob = { spec: ChartSpec; plan: ChartPlan; earlier: ChartPlan | null; locale: Locale };

/** A file of a chart, with the colours chosen for values. */
export type ChartFile = { format: ChartFormat; path: string; title: string; brief: string; printedAt: string; chosen: Record<string, number> };

/** Letters to make: their plan with parameters bound, and what the tables of related rows are resolved on. */
export type LetterJob = { spec: LetterSpec; plan: LetterPlan; query: QuerySpec; schema: Schema; context: RunContext; locale: Locale };

export type LetterFile = { format: LetterFormat; path: string; title: string };

/** A tile that was worked out; of a switch, the one it shows first. What is made from no query has no answer. */
/** A tile that was worked out. `unmet` says which filters do not narrow it, `asked` what its query asks for, where tiles differ in it. */
export type DashboardTileJob = { place: string; title: string; tile: PlainTile; unmet: string; asked: string; answer: TileAnswer | null };
/** A dashboard that was worked out, to be made into a file. `words` are what texts may name besides figures. */
export type DashboardJob = {
  spec: DashboardSpec;
  tiles: DashboardTileJob[];
  words: Record<string, string>;
  file: { format: DashboardFormat; path: string; title: string; brief: string; printedAt: string };
  locale: Locale;
  chosen: Record<string, number>;
};

/** A posting with where its source's rows are read. */
export type PostingJob = { plan: PostingPlan; source: { database: string; rows: Plan } };

export type FileResult = { rows: number; bytes: number; totals: Record<string, Cell> };
export type JobResult = {
  inspect: Schema;
  rows: Buffer;
  singles: Cell[][];
  proof: Proof;
  pivot: Buffer;
  pivotRecount: PivotRecount;
  pivotFile: FileResult;
  chart: Buffer;
  chartFile: FileResult;
  letterPages: { pages: Page[]; count: number; name: string; empty: string[] };
  letterSurvey: LetterSurvey;
  letterFile: FileResult & { pages: number };
  dashboardFile: FileResult & { pages: number | null };
  export: FileResult;
  stageQuery: Table;
  postingPreview: Tally;
  post: Entry;
  reversalPreview: Reversal;
  reverse: Entry;
  edit: Edited;
  previewRows: Buffer;
  journal: Entry[];
  suggestLinks: LinkSuggestion[];
  linkEvidence: LinkEvidence;
  scanFile: { format: FileFormat; sheets: string[]; scan: Scan };
  importFile: Imported;
  reportGlance: Page[];
  reportPages: { pages: Page[]; outline: ReportOutline };
  reportPdf: FileResult & { pages: number };
};

/** Why a job failed, in a word the server turns into a sentence. */
export type FailureCode =
  | "notFound"
  | "notDatabase"
  | "locked"
  | "occupied"
  | "readOnly"
  | "tooLarge"
  | "tooMuchText"
  | "diskFull"
  | "timeout"
  | "stopped"
  | "sql"
  | "crashed"
  | "noEngine"
  | "refusedEdit"
  | "trigger"
  | "noEntry"
  | "reversedBefore"
  | "columnsChanged"
  | "changedSince"
  | "fileGone"
  | "fileRefused";

export class JobFailure extends Error {
  constructor(
    readonly code: FailureCode,
    readonly particulars = "",
  ) {
    super(failureWords(code, particulars));
    this.name = "JobFailure";
  }
}

/** What is wrong with a value or a file is the sentence; elsewhere particulars stand behind it. */
function failureWords(code: FailureCode, particulars: string): string {
  const words = FAILURE_SENTENCES[code];
  if (particulars === "") return words;
  return code === "refusedEdit" || code === "fileRefused" ? `${words.replace(/\.$/, "")}: ${particulars}.` : `${words} (${particulars})`;
}

export const FAILURE_SENTENCES: Record<FailureCode, string> = {
  notFound: "The database file is missing. Restore it, or start with another file.",
  notDatabase: "The file is not a SQLite database. Choose another file.",
  locked: "Another program has locked the database. Close it there, then try again.",
  occupied: "Another change to this database is still running. Try again in a moment.",
  readOnly: "The server has no permission to write the database file. Give it write access to the file and its folder, then try again.",
  tooLarge: "A number, total or product has more than 18 digits. It was not rounded. Use fewer rows or fewer decimal places.",
  tooMuchText: "These rows have more text than can be shown at once. Remove the column with the longest texts, or export the rows.",
  diskFull: "The disk is full. Nothing was written. Free some space, then run it again.",
  timeout: "It took longer than the time limit and was stopped. Add a condition, or export it with a schedule.",
  stopped: "Stopped.",
  sql: "The database could not run this.",
  refusedEdit: "It was not changed.",
  trigger: "A trigger of this table changes more than the journal could reverse, so it cannot be changed here.",
  noEntry: "The journal has no such entry, or its table does not exist any more.",
  reversedBefore: "This posting was already reversed, by the entry named here.",
  columnsChanged: "The columns of the table have changed since, so this posting cannot be reversed.",
  changedSince: "The rows have changed since the preview. Nothing was posted. Check the new preview, then post again.",
  fileGone: "This file is no longer stored. Import it again.",
  fileRefused: "The file could not be read.",
  noEngine: "The engine could not start, so no data can be read. Check the server log for the reason, then restart.",
  crashed: "The process stopped before it was done. Try again.",
};
