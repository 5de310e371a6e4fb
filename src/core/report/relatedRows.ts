import type { RowCells } from "../folio/panel";
import type { PlanColumn } from "../query/plan";
import type { Cell } from "../types/valueType";
import type { RelatedPlan } from "./relatedPlan";
import type { LaidColumn } from "./table";

/** The rows of a related table; by column, the places of what tells apart the rows that its total counts once. */
export type RelatedRows = { columns: PlanColumn[]; rows: Iterable<Cell[]>; keys: (column: PlanColumn) => number[] | null };
export type ReadRelated = (plan: RelatedPlan, rows: RowCells[]) => RelatedRows;

/** A related table's columns in their places, and those of the tables within it. */
export type RelatedLayout = { plan: RelatedPlan; columns: LaidColumn[]; left: number; related: RelatedLayout[] };
