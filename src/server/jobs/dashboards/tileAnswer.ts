import type { ChartAnswer } from "@/core/chart/data";
import type { ChartSpec } from "@/core/chart/spec";
import type { Pivot, ShownFigure } from "@/core/pivot/pivot";
import type { PivotSpec } from "@/core/pivot/spec";
import type { ShownColumn } from "@/core/query/shownColumn";
import type { QuerySpec } from "@/core/query/spec";
import type { Cell } from "@/core/types/valueType";

/** What a tile shows, and the query its rows can be opened by. */
export type TileAnswer = TileContent & { tile: string };

export type TileContent =
  | {
      kind: "figure";
      figure: ShownFigure;
      now: Cell;
      before: Cell;
      target: number | null;
      rows: number;
      query: QuerySpec;
      pivot: PivotSpec;
      asOf: string | null;
    }
  | { kind: "chart"; spec: ChartSpec; answer: ChartAnswer; query: QuerySpec; name: string }
  | { kind: "pivot"; spec: PivotSpec; pivot: Pivot; query: QuerySpec; name: string }
  | { kind: "table"; columns: ShownColumn[]; rows: Cell[][]; count: number; query: QuerySpec };
