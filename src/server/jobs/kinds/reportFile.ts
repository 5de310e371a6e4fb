import type { ReportProof } from "@/core/report/checks";
import type { Run } from "@/server/engine/protocol";
import { writeReportFile } from "@/server/jobs/export/reportFile";
import type { FileResult, ReportFile, ReportJob } from "@/server/jobs/work";
import { readingWithCopy } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    reportFile: { asks: { database: string; report: ReportJob; file: ReportFile }; gives: FileResult & { pages: number | null; proof: ReportProof } };
  }
}

export const run: Run<"reportFile"> = (job, { progress }) => readingWithCopy(job.database, (r) => writeReportFile(r, job.report, job.file, progress));
