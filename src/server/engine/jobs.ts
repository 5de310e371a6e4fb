import type { Duplicates, Merged } from "@/core/duplicates/merging";
import type { Clean, FileFormat, ImportSpec } from "@/core/import/spec";
import type { PivotRecount } from "@/core/pivot/seal";
import type { JournalExport } from "@/core/posting/journalFind";
import type { Tally } from "@/core/posting/outcome";
import type { PlanLink, TableLinks } from "@/core/posting/plan";
import type { ValueCandidate } from "@/core/posting/valuePairs";
import type { AboutFile } from "@/core/proof/aboutFile";
import type { Proof } from "@/core/proof/proof";
import type { RowsSql, Sql } from "@/core/query/compile";
import type { Plan } from "@/core/query/plan";
import type { ReportProof } from "@/core/report/checks";
import type { ReportOutline } from "@/core/report/layOut";
import type { Page } from "@/core/report/page";
import type { RowFormat } from "@/core/schedule/choices";
import type { LinkSpec } from "@/core/schema/linkSpec";
import type { Schema, Table } from "@/core/schema/schema";
import type { ShapePlan } from "@/core/shape/shapePlan";
import type { ShapeSurvey } from "@/core/shape/survey";
import type { Locale } from "@/core/types/format";
import type { Cell } from "@/core/types/valueType";
import type { ColumnSetting } from "@/server/catalogue/catalogue";
import type { Merging } from "@/server/duplicates/merge";
import type { Imported } from "@/server/import/run";
import type { Scan } from "@/server/import/scan";
import type { LetterSurvey } from "@/server/letters/run";
import type { LinkEvidence, LinkSuggestion } from "@/server/links/evidence";
import type { Edited, RowEdit } from "@/server/posting/edit";
import type { Entry } from "@/server/posting/journal";
import type { JournalPage, JournalQuestion } from "@/server/posting/journalFind";
import type { OutcomeStep } from "@/server/posting/outcomeTable";
import type { PreviewPage } from "@/server/posting/preview";
import type { Reversal } from "@/server/posting/reverse";
import type { RowChange } from "@/server/posting/rowHistory";
import type { NewEntry, ReversedEntry } from "@/server/posting/run";
import type { ShapeNow } from "@/server/shape/run";
import type { MadeLink } from "./inspect";
import type {
  ChartFile,
  ChartJob,
  ClosingJob,
  DashboardJob,
  FileResult,
  LetterFile,
  LetterJob,
  PivotFile,
  PivotJob,
  PostingJob,
  ReportFile,
  ReportJob,
} from "./work";

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
      /** What the rows are of, to be said beside them with their proof; `figure` is the column that the account follows. */
      about?: AboutFile & { figure: string | null };
    }
  | { kind: "stageQuery"; database: string; plan: Plan; path: string }
  | { kind: "postingPreview"; database: string; posting: PostingJob; path: string }
  | { kind: "post"; database: string; posting: PostingJob; digest: string; again: boolean; entry: NewEntry }
  | { kind: "reversalPreview"; database: string; schema: Schema; number: number; force: boolean; path: string }
  | { kind: "reverse"; database: string; schema: Schema; number: number; force: boolean; digest: string; entry: Omit<NewEntry, "table"> }
  | { kind: "edit"; database: string; table: Table; links: TableLinks; change: RowEdit; entry: NewEntry }
  | { kind: "shapeNow"; database: string; table: string | null }
  | { kind: "shapeSurvey"; database: string; plan: ShapePlan }
  | { kind: "shape"; database: string; plan: ShapePlan; digest: string; entry: NewEntry; seen: string | null }
  | { kind: "tableFromQuery"; database: string; plan: Plan; name: string; entry: NewEntry }
  | { kind: "dropTable"; database: string; table: Table; entry: NewEntry }
  | { kind: "outcomeTable"; path: string; steps: OutcomeStep[]; into: string }
  | ({ kind: "previewRows"; path: string } & PreviewPage)
  | { kind: "suggestLinks"; database: string; schema: Schema; table: string | null }
  | { kind: "linkEvidence"; database: string; spec: LinkSpec }
  | { kind: "scanFile"; path: string; name: string; format: FileFormat | null; cleans?: (Clean | undefined)[] }
  | { kind: "fileHeadings"; path: string; format: FileFormat }
  | { kind: "importFile"; path: string; spec: ImportSpec; into: { kind: "table"; database: string; entry: NewEntry } | { kind: "stage"; path: string } }
  | ({ kind: "journal"; database: string } & JournalQuestion)
  | { kind: "journalEntry"; database: string; number: number }
  | { kind: "journalPeople"; database: string }
  | { kind: "journalTable"; database: string; schema: Schema; what: JournalExport; question: Omit<JournalQuestion, "limit">; into: string }
  | { kind: "valueShares"; database: string; staged: string; candidates: ValueCandidate[] }
  | { kind: "duplicates"; database: string; table: Table; links: PlanLink[]; question: { columns: string[]; near: boolean } }
  | { kind: "mergePreview"; database: string; merging: Merging }
  | { kind: "merge"; database: string; merging: Merging; digest: string; entry: NewEntry }
  | { kind: "rowHistory"; database: string; table: Table; key: string[] }
  | { kind: "reportPages"; database: string; report: ReportJob; from: number; to: number }
  | { kind: "drawnPages"; database: string; drawn: ClosingJob; locale: Locale; printedAt: string }
  | { kind: "reportGlance"; database: string; report: ReportJob }
  | { kind: "reportFind"; database: string; report: ReportJob; text: string }
  | { kind: "reportFile"; database: string; report: ReportJob; file: ReportFile };

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
  letterPages: { pages: Page[]; count: number; name: string; empty: string[]; notes: string[] };
  letterSurvey: LetterSurvey;
  letterFile: FileResult & { pages: number };
  dashboardFile: FileResult & { pages: number | null };
  export: FileResult;
  stageQuery: Table;
  postingPreview: Tally;
  post: Entry;
  reversalPreview: Reversal;
  reverse: ReversedEntry;
  edit: Edited;
  shapeNow: ShapeNow;
  shapeSurvey: ShapeSurvey & { state: string };
  shape: Entry;
  tableFromQuery: Entry;
  dropTable: Entry;
  outcomeTable: Table;
  previewRows: Buffer;
  journal: JournalPage;
  journalEntry: Entry | null;
  journalPeople: string[];
  journalTable: Table;
  valueShares: number[];
  duplicates: Duplicates;
  mergePreview: Merged;
  merge: Entry;
  rowHistory: RowChange[];
  suggestLinks: LinkSuggestion[];
  linkEvidence: LinkEvidence;
  scanFile: { format: FileFormat; sheets: string[]; scan: Scan };
  fileHeadings: string[];
  importFile: Imported;
  reportGlance: Page[];
  reportFind: number[];
  reportPages: { pages: Page[]; outline: ReportOutline };
  drawnPages: Page[];
  reportFile: FileResult & { pages: number | null; proof: ReportProof };
};
