import type { Column, Schema, Table } from "@/core/schema/schema";
import type { ColumnPart } from "@/core/shape/createTable";
import type { ShapePlanColumn } from "@/core/shape/shapePlan";
import type { ShapeColumn, ShapeSpec } from "@/core/shape/spec";
import type { ColumnSurvey, ShapeMade } from "@/core/shape/survey";

/** One column of a table that is being changed. */
export type LineProps = {
  spec: ShapeSpec;
  column: ShapeColumn;
  /** The table as it is; null where it is made. */
  table: Table | null;
  /** The column as it is in the database; undefined for a new one. */
  now: { column: Column; part: ColumnPart | undefined } | undefined;
  /** The columns of the key, by their ids: as they are, and as they are to be. */
  keyed: { now: string[]; ids: string[] };
  planned: ShapePlanColumn | undefined;
  schema: Schema;
  survey: ColumnSurvey | undefined;
  /** What is made before, so that its rows can lead there. */
  made: ShapeMade | undefined;
  /** What is wrong with what was entered, by the part it is wrong in. */
  problems: Map<string, string>;
  change: (next: ShapeSpec, said?: string) => void;
};

/** Fields that stand in a table of their own lines. */
export const QUIET = "border-transparent bg-transparent hover:border-rule focus:border-bottle";
