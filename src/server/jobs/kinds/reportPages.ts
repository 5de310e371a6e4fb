import type { ReportOutline } from "@/core/report/layOut";
import type { Page } from "@/core/report/page";
import type { Run } from "@/server/engine/protocol";
import { layOutReportPages } from "@/server/jobs/reports/pages";
import type { ReportJob } from "@/server/jobs/work";
import { readingWithCopy } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    reportPages: { asks: { database: string; report: ReportJob; from: number; to: number }; gives: { pages: Page[]; outline: ReportOutline } };
  }
}

export const run: Run<"reportPages"> = (job) => readingWithCopy(job.database, (r) => layOutReportPages(r, job.report, job.from, job.to));
