import type { RowCells } from "../folio/panel";
import type { PlanColumn } from "../query/plan";
import type { Cell } from "../types/valueType";
import type { RelatedPlan } from "./relatedPlan";
import type { LaidColumn } from "./table";
import type { Tally } from "./tally";

/** The rows of a related table, and what adds up a column of them. */
export type RelatedRows = { columns: PlanColumn[]; rows: Iterable<Cell[]>; tally: (column: PlanColumn) => Tally };
export type ReadRelated = (plan: RelatedPlan, rows: RowCells[]) => RelatedRows;

/** A related table's columns in their places, and those of the tables within it. */
export type RelatedLayout = { plan: RelatedPlan; columns: LaidColumn[]; left: number; related: RelatedLayout[] };
