import type { Cell } from "../types/valueType";
import type { ShapePlan } from "./shapePlan";

/** What a column's values come to in its new shape. */
export type ColumnSurvey = {
  /** Rows whose value does not fit, and the values with the most of them. */
  misfits: { rows: number; values: { written: string; why: string; rows: number /** What it may have meant, where it was looked up. */; near?: string }[] };
  /** Rows whose date could be read as another day as well, and such dates as they are written. */
  twoWays?: { rows: number; values: string[] };
  /** Rows with nothing in a column that is required. */
  empty: number;
  /** Rows with a value that another row has too, where no two may. */
  doubled: { rows: number; values: string[] };
  /** Rows that break the column's check. */
  broken: number;
};

/** What is made for a column to lead to: how many rows, and what would be lost: names whose rows have different values in a column that is taken, rows without a name. */
export type ShapeMade = { id: string; table: string; label: string; rows: number; differing: { names: number; values: string[] } };

/** What a change of a table's shape would come to, of every row of it. */
export type ShapeSurvey = {
  rows: number;
  columns: Record<string, ColumnSurvey>;
  /** Of the new key. */
  key: { empty: number; doubled: { rows: number; values: string[] } };
  dropped: { label: string; values: number }[];
  /** What is made before, so that rows can lead there. */
  made: ShapeMade[];
  /** What belongs to the table and stays; what goes with its columns. */
  kept: { indexes: number; triggers: number };
  lostIndexes: string[];
  /** Why the database would not have it, whatever its rows are. */
  refusal: string | null;
  /** The first rows as they will be, in the order of the plan's columns. */
  sample: Cell[][];
  digest: string;
};

/** Whether something of a survey stands in the way of the change. */
export function standsInTheWay(survey: ShapeSurvey, plan: ShapePlan): boolean {
  const emptied = new Set(plan.columns.flatMap((c) => ("empty" in c.value && c.value.empty ? [c.id] : [])));
  const columns = Object.entries(survey.columns).some(
    ([id, c]) => (c.misfits.rows > 0 && !emptied.has(id)) || c.empty > 0 || c.doubled.rows > 0 || c.broken > 0,
  );
  const differing = survey.made.some(
    (m) => m.differing.names > 0 && plan.makes.some((make) => make.id === m.id && make.kind === "table" && make.differing === "refuse"),
  );
  return survey.refusal !== null || columns || differing || survey.key.empty > 0 || survey.key.doubled.rows > 0;
}
