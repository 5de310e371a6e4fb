import type { Run } from "@/server/engine/protocol";
import { exportPivot } from "@/server/jobs/export/pivot";
import type { FileResult, PivotFile, PivotJob } from "@/server/jobs/work";
import { readingWithCopy } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    pivotFile: { asks: { database: string; pivot: PivotJob; file: PivotFile }; gives: FileResult };
  }
}

export const run: Run<"pivotFile"> = (job) => readingWithCopy(job.database, (r) => exportPivot(r, job.pivot, job.file));
