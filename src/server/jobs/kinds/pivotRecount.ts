import type { PivotRecount } from "@/core/pivot/seal";
import type { Run } from "@/server/engine/protocol";
import { runPivotRecount } from "@/server/jobs/pivots/run";
import type { PivotJob } from "@/server/jobs/work";
import { connection } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    pivotRecount: { asks: { database: string; pivot: PivotJob }; gives: PivotRecount };
  }
}

export const run: Run<"pivotRecount"> = (job) => runPivotRecount(connection(job.database), job.pivot);
