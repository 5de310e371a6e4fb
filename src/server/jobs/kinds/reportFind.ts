import type { Run } from "@/server/engine/protocol";
import { findInReport } from "@/server/jobs/reports/pages";
import type { ReportJob } from "@/server/jobs/work";
import { connection } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    reportFind: { asks: { database: string; report: ReportJob; text: string }; gives: number[] };
  }
}

export const run: Run<"reportFind"> = (job) => findInReport(connection(job.database), job.report, job.text);
