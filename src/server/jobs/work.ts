import type { ChartFormat } from "@/core/chart/choices";
import type { ChartPlan } from "@/core/chart/plan";
import type { ChartSpec } from "@/core/chart/spec";
import type { DashboardFormat } from "@/core/dashboard/choices";
import type { DashboardSpec, PlainTile } from "@/core/dashboard/spec";
import type { LetterFormat } from "@/core/letter/choices";
import type { LetterPlan } from "@/core/letter/plan";
import type { LetterSpec } from "@/core/letter/spec";
import type { PivotFormat } from "@/core/pivot/choices";
import type { PivotPlan } from "@/core/pivot/pivot";
import type { PivotSpec } from "@/core/pivot/spec";
import type { PostingPlan } from "@/core/posting/plan";
import type { PostingControl } from "@/core/posting/spec";
import type { RunContext } from "@/core/query/operands";
import type { Plan } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import type { ReportFormat } from "@/core/report/choices";
import type { ReportTexts } from "@/core/report/layOut";
import type { ReportPlan } from "@/core/report/plan";
import type { Schema } from "@/core/schema/schema";
import type { Locale } from "@/core/types/format";
import type { Cell } from "@/core/types/valueType";
import type { TileAnswer } from "@/server/jobs/dashboards/tileAnswer";

/**
 * A report to lay out: its plan with parameters bound, and what is printed around the rows. `names`: by the columns of its
 * rows, the plans of what those are called. `over`: what related rows, charts and
 * cross-tables of groups are resolved on comes with those alone.
 */
export type ReportJob = {
  report: ReportPlan;
  names: Record<string, Plan>;
  over: { query: QuerySpec; schema: Schema; context: RunContext } | null;
  /** The charts and cross-tables of its groups, by the ids of inserts. */
  inserts: Record<string, InsertJob>;
  texts: ReportTexts;
  /** The moment it is made at (ISO 8601, UTC). */
  now: string;
  locale: Locale;
  closing: ClosingJob[];
};

/** A saved pivot or chart that is kept to a group of a report. `band` is how wide a histogram's bands are in all of them. */
export type InsertJob = { title: string } & (
  | { kind: "pivot"; spec: PivotSpec }
  | { kind: "chart"; spec: ChartSpec; band: string; chosen: Record<string, number> }
);

/** A file of a report; its rows alone are made as those of a query. */
export type ReportFile = { format: Exclude<ReportFormat, "csv">; path: string };

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

/** The steps of a posting, each with where its source's rows are read. */
export type PostingJob = { steps: { plan: PostingPlan; source: { database: string; rows: Plan } }[]; controls: PostingControl[] };

export type FileResult = { rows: number; bytes: number; totals: Record<string, Cell> };
