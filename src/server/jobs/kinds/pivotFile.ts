import type { Run } from "@/server/engine/protocol";
import { exportPivot } from "@/server/jobs/export/pivot";
import type { FileResult, PivotFile, PivotJob } from "@/server/jobs/work";
import { connection } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    pivotFile: { asks: { database: string; pivot: PivotJob; file: PivotFile }; gives: FileResult };
  }
}

export const run: Run<"pivotFile"> = (job) => exportPivot(connection(job.database), job.pivot, job.file);
