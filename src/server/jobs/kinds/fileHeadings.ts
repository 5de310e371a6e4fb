import type { FileFormat } from "@/core/import/spec";
import type { Run } from "@/server/engine/protocol";
import { fileHeadings } from "@/server/jobs/import/scan";

declare module "@/server/engine/protocol" {
  interface Jobs {
    fileHeadings: { asks: { path: string; format: FileFormat }; gives: string[] };
  }
}

export const run: Run<"fileHeadings"> = (job) => fileHeadings(job.path, job.format);
