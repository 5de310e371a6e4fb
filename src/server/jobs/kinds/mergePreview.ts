import type { Merged } from "@/core/duplicates/merging";
import type { Run } from "@/server/engine/protocol";
import { type Merging, previewMerge } from "@/server/jobs/duplicates/merge";

declare module "@/server/engine/protocol" {
  interface Jobs {
    mergePreview: { asks: { database: string; merging: Merging }; gives: Merged };
  }
}

export const holdsUpOthers = true;

export const run: Run<"mergePreview"> = (job) => previewMerge(job.database, job.merging);
