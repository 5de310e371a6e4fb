import type { Page } from "@/core/report/page";
import type { Run } from "@/server/engine/protocol";
import { glanceAtReport } from "@/server/jobs/reports/pages";
import type { ReportJob } from "@/server/jobs/work";
import { readingWithCopy } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    reportGlance: { asks: { database: string; report: ReportJob }; gives: Page[] };
  }
}

export const run: Run<"reportGlance"> = (job) => readingWithCopy(job.database, (r) => glanceAtReport(r, job.report));
