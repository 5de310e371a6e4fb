import type { Pivot } from "../pivot/pivot";
import type { PivotSpec } from "../pivot/spec";
import type { Cell } from "../types/valueType";
import type { Insert } from "./spec";

/** A saved item kept to a group. `rows`: how many rows it is worked out from; null where it has conditions of its own. */
export type Inserted = { title: string; rows: number | null } & (
  | { kind: "pivot"; pivot: Pivot; spec: PivotSpec }
  /** `picture` draws it so large, in points, as a PNG in base64. */
  | { kind: "chart"; picture: (width: number, height: number) => string }
);

/** Works an insert out for the group that keys make, outermost level first. */
export type ReadInsert = (insert: Insert, keys: Cell[]) => Inserted;
