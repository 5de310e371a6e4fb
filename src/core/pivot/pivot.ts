import type { Plan, PlanColumn } from "../query/plan";
import type { ColumnFormat } from "../types/schemas";
import type { Cell, ValueType } from "../types/valueType";
import type { PivotAxis, PivotFigure } from "./spec";

/** A heading as it is sent: its place in its list is its index; the total over the axis is the first. */
export type Heading = {
  level: number;
  key: Cell /** of the rest of a first n: the keys that are not in it */;
  rest: Cell[] | null;
  parent: number;
  rows: number;
  /** What the row is called of which its value is the key. */
  name?: string | undefined;
};

export type AxisField = { heading: string; type: ValueType; format: ColumnFormat; unit?: string | undefined };

export type ShownFigure = { id: string; heading: string; type: ValueType; format: ColumnFormat; unit?: string | undefined };

/** A pivot worked out. Headings stand in order, each parent before its children; cells row by row, down.length × across.length. */
export type Pivot = {
  axes: { down: AxisField[]; across: AxisField[] };
  down: Heading[];
  across: Heading[];
  figures: ShownFigure[];
  cells: Cell[][];
  proof: PivotProof;
  /** The moment (ISO 8601) that its figures are of, where that is an earlier one. */
  asOf?: string | null;
};

/** `names`: of a field whose values are keys of rows with names, the plan of these: each row's key and name. */
export type PlannedAxis = { spec: PivotAxis; column: PlanColumn; names?: Plan };

/** `overlaps` where one row of what a total counts once may stand in several cells: then cells do not add up to the whole. */
export type PlannedFigure = { spec: PivotFigure; column: PlanColumn; overlaps: boolean };

/** A pivot checked against its query: its fields and figures as columns over the query's rows. */
export type PivotPlan = { inner: Plan; plan: Plan; down: PlannedAxis[]; across: PlannedAxis[]; figures: PlannedFigure[] };

/**
 * One figure that adds up, three ways: the rows' totals added, the columns' totals added, and the query asked for it in
 * one. Where it counts rows once that stand under several headings, `overlaps` names them: then the totals down and
 * across come to more, and only the pivot's own total must be the query's.
 */
export type CrossFoot = {
  figure: string;
  heading: string;
  type: ValueType;
  down: Cell | undefined;
  across: Cell | undefined;
  query: Cell;
  overlaps: string | null;
  agrees: boolean;
};

/** The account of a pivot. `empties` counts the rows that have no value in a field and stand under a heading of their own. */
export type PivotProof = {
  figures: CrossFoot[];
  /** What figures that do not add up come to over all rows, by the pivot's own line of totals. */
  wholes: { figure: string; heading: string; type: ValueType; cell: Cell }[];
  rows: { down: number; across: number; query: number };
  empties: { field: string; rows: number }[];
  agrees: boolean;
};
