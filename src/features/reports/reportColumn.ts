import type { PlanColumn } from "@/core/query/plan";

/** A column of a report's query, or of the report itself, as its page knows it. */
export type ReportColumn = Pick<PlanColumn, "id" | "heading" | "type" | "format" | "unit">;
