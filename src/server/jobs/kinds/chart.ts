import { MOST } from "@/core/pivot/assemble";
import { answeredLater } from "@/core/query/asking";
import type { Run } from "@/server/engine/protocol";
import { chartPlans, workingChart } from "@/server/jobs/charts/run";
import type { ChartJob } from "@/server/jobs/work";
import { readingOf } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    chart: { asks: { database: string; chart: ChartJob; asOf?: string[] }; gives: Buffer };
  }
}

export const run: Run<"chart"> = ({ database, chart, asOf }) =>
  readingOf(
    database,
    chartPlans(chart),
    async (reader) => {
      const answer = await answeredLater(workingChart(chart), (statement) => reader.answer(statement, MOST.groups));
      return Buffer.from(JSON.stringify({ ...answer, asOf: reader.asOf }));
    },
    asOf,
  );
