import type { Run } from "@/server/engine/protocol";
import { exportChart } from "@/server/jobs/export/chart";
import type { ChartFile, ChartJob, FileResult } from "@/server/jobs/work";
import { readingWithCopy } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    chartFile: { asks: { database: string; chart: ChartJob; file: ChartFile }; gives: FileResult };
  }
}

export const run: Run<"chartFile"> = (job) => readingWithCopy(job.database, (r) => exportChart(r, job.chart, job.file));
