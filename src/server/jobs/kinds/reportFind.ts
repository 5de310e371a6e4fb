import type { Run } from "@/server/engine/protocol";
import { findInReport } from "@/server/jobs/reports/pages";
import type { ReportJob } from "@/server/jobs/work";
import { readingWithCopy } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    reportFind: { asks: { database: string; report: ReportJob; text: string }; gives: number[] };
  }
}

export const run: Run<"reportFind"> = (job) => readingWithCopy(job.database, (r) => findInReport(r, job.report, job.text));
