import type { Run } from "@/server/engine/protocol";
import { type PreviewPage, previewRows } from "@/server/jobs/posting/preview";

declare module "@/server/engine/protocol" {
  interface Jobs {
    previewRows: { asks: { path: string } & PreviewPage; gives: Buffer };
  }
}

export const run: Run<"previewRows"> = (job) => previewRows(job.path, job);
