import type { PivotRecount } from "@/core/pivot/seal";
import type { Run } from "@/server/engine/protocol";
import { pivotPlans, runPivotRecount } from "@/server/jobs/pivots/run";
import type { PivotJob } from "@/server/jobs/work";
import { reading, rowsAsOf } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    pivotRecount: { asks: { database: string; pivot: PivotJob; asOf?: string | null }; gives: PivotRecount };
  }
}

/** Of the database as it is now, or as of the moment that the pivot's figures are of. */
export const run: Run<"pivotRecount"> = ({ database, pivot, asOf }) =>
  asOf ? runPivotRecount(rowsAsOf(database, pivotPlans(pivot.plan), asOf), pivot) : reading(database, (r) => runPivotRecount(r.tables, pivot));
