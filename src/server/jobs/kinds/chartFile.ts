import type { Run } from "@/server/engine/protocol";
import { exportChart } from "@/server/jobs/export/chart";
import type { ChartFile, ChartJob, FileResult } from "@/server/jobs/work";
import { connection } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    chartFile: { asks: { database: string; chart: ChartJob; file: ChartFile }; gives: FileResult };
  }
}

export const run: Run<"chartFile"> = (job) => exportChart(connection(job.database), job.chart, job.file);
