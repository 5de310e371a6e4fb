import type { Page } from "@/core/report/page";
import type { Locale } from "@/core/types/format";
import type { Run } from "@/server/engine/protocol";
import { drawnPages } from "@/server/jobs/reports/pages";
import type { ClosingJob } from "@/server/jobs/work";
import { connection } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    drawnPages: { asks: { database: string; drawn: ClosingJob; locale: Locale; printedAt: string }; gives: Page[] };
  }
}

export const run: Run<"drawnPages"> = (job) => drawnPages(connection(job.database), job.drawn, job);
