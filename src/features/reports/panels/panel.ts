import type { QuerySpec } from "@/core/query/spec";
import type { Part } from "@/core/report/page";
import type { ReportSpec } from "@/core/report/spec";
import type { Schema } from "@/core/schema/schema";
import type { ReportColumn } from "../reportColumn";

/** What every panel of a report's settings works on. */
export type PanelProps = {
  spec: ReportSpec;
  change: (next: ReportSpec, kind?: string) => void;
  /** The columns of its query. */
  columns: ReportColumn[];
  query: QuerySpec | null;
  schema: Schema;
  /** The part of the page whose settings stand open. */
  selected: Part | null;
  select: (part: Part | null) => void;
};
