import type { RowCells } from "../folio/panel";
import type { CellWriter, Locale } from "../types/format";
import type { Amount } from "./amount";
import type { RunningCarry } from "./carry";
import type { ReportChecks } from "./checks";
import type { Piece } from "./fillPages";
import type { Group, Sources } from "./groups";
import type { HeldFigures } from "./held";
import type { ReadInsert } from "./inserts";
import type { Metrics, Tag } from "./page";
import type { PlanLevel, ReportPlan } from "./plan";
import type { ReadRelated, RelatedLayout } from "./relatedRows";
import type { LaidColumn } from "./table";
import type { TextGiven } from "./words";

/** A group's heading in the contents, with the page it stands on. */
export type Entry = { level: number; text: string; page: number; empty: boolean; rows: number };

export type FlowInput = {
  report: ReportPlan;
  metrics: Metrics;
  locale: Locale;
  /** Between these rows stand: the page's margins, or one column down the page. */
  left: number;
  right: number;
  columns: LaidColumn[];
  tables: RelatedLayout[];
  fill: (text: string, given: TextGiven) => string;
  sources: Sources & { related: ReadRelated; inserted: ReadInsert };
  checks: ReportChecks;
  entries: Entry[];
  /** Pieces before the first row: title, brief and what goes with them. */
  before: Piece[];
  /** Told the page on which the grand footing stands. */
  total: (page: number) => void;
};

/** What the pieces of a report are made with. */
export type FlowSetting = Omit<FlowInput, "sources" | "entries" | "before" | "fill"> & {
  related: ReadRelated;
  inserted: ReadInsert;
  /** Where rows begin, set in by the levels around them. */
  inner: number;
  /** Whether rows stand under headings of columns. */
  tabled: boolean;
  /** What writes the figures of each depth. */
  writers: CellWriter[][];
  text: (text: string, opened: OpenGroup) => string;
  nextTable: () => number;
  nextRow: (table?: number, head?: boolean) => Extract<Tag, { kind: "cell" }>;
};

/** A group while its rows come. */
export type OpenGroup = {
  group: Group;
  level: PlanLevel | undefined;
  /** Its heading, and its value alone. */
  words: string;
  value: string;
  carry: RunningCarry | null;
  entry?: Entry;
  /** The rows that related tables under it belong to, by table, each once. */
  parents: Map<string, Map<string, RowCells>>;
  /** How many groups, and how many rows, have come in it: what tells of them may be further already. */
  told: number;
  rows: number;
  /** The figures of it that its rows hold, each taken of them once more. */
  held: HeldFigures[];
  /** The places of the fields in its summary, and whether they are the same in all rows so far. */
  summed: { places: number[]; same: boolean };
  /** The totals of its related tables, by table and column, as far as they are printed. */
  relatedTotals: Map<string, Amount>;
  /** What charts and cross-tables of the group were worked out from, and whether each agrees within itself. */
  inserted: { rows: number | null; agrees: boolean }[];
};
