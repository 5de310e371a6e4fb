import type { PivotRecount } from "@/core/pivot/seal";
import type { Run } from "@/server/engine/protocol";
import { runPivotRecount } from "@/server/jobs/pivots/run";
import type { PivotJob } from "@/server/jobs/work";
import { reading } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    pivotRecount: { asks: { database: string; pivot: PivotJob }; gives: PivotRecount };
  }
}

export const run: Run<"pivotRecount"> = (job) => reading(job.database, (r) => runPivotRecount(r, job.pivot));
