import type { QuerySpec } from "@/core/query/spec";
import type { Part } from "@/core/report/page";
import type { ReportSpec } from "@/core/report/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import type { ReportColumn } from "../reportColumn";

/** A saved pivot or chart that a report can print. */
export type PrintedItem = { kind: "pivot" | "chart"; id: string; name: string; query: string };

/** What every panel of a report's settings works on. */
export type PanelProps = {
  spec: ReportSpec;
  change: (next: ReportSpec, kind?: string) => void;
  /** The columns of its query. */
  columns: ReportColumn[];
  query: QuerySpec | null;
  schema: Schema;
  today: Today;
  /** The pivots and charts there are. */
  items: PrintedItem[];
  /** The part of the page whose settings stand open. */
  selected: Part | null;
  select: (part: Part | null) => void;
};
