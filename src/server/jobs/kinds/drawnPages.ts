import type { Page } from "@/core/report/page";
import type { Locale } from "@/core/types/format";
import type { Run } from "@/server/engine/protocol";
import { drawnPages } from "@/server/jobs/reports/pages";
import type { ClosingJob } from "@/server/jobs/work";
import { readingWithCopy } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    drawnPages: { asks: { database: string; drawn: ClosingJob; locale: Locale; printedAt: string }; gives: Page[] };
  }
}

export const run: Run<"drawnPages"> = (job) => readingWithCopy(job.database, (r) => drawnPages(r, job.drawn, job));
