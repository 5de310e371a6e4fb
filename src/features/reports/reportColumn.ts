import type { PlanColumn } from "@/core/query/plan";

export type ReportColumn = Pick<PlanColumn, "id" | "heading" | "type" | "format">;
