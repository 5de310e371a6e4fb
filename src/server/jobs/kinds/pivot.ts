import type { Run } from "@/server/engine/protocol";
import { runPivot } from "@/server/jobs/pivots/run";
import type { PivotJob } from "@/server/jobs/work";
import { connection, inSnapshot } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    pivot: { asks: { database: string; pivot: PivotJob }; gives: Buffer };
  }
}

export const run: Run<"pivot"> = (job) =>
  inSnapshot(connection(job.database), () => Buffer.from(JSON.stringify(runPivot(connection(job.database), job.pivot))));
