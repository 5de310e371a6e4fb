import type { Run } from "@/server/engine/protocol";
import { runChart } from "@/server/jobs/charts/run";
import type { ChartJob } from "@/server/jobs/work";
import { connection, inSnapshot } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    chart: { asks: { database: string; chart: ChartJob }; gives: Buffer };
  }
}

export const run: Run<"chart"> = (job) =>
  inSnapshot(connection(job.database), () => Buffer.from(JSON.stringify(runChart(connection(job.database), job.chart))));
