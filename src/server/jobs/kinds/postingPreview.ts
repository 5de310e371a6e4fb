import type { Tally } from "@/core/posting/outcome";
import type { Run } from "@/server/engine/protocol";
import { previewPosting } from "@/server/jobs/posting/run";
import type { PostingJob } from "@/server/jobs/work";

declare module "@/server/engine/protocol" {
  interface Jobs {
    postingPreview: { asks: { database: string; posting: PostingJob; path: string }; gives: Tally };
  }
}

export const holdsUpOthers = true;

export const run: Run<"postingPreview"> = (job) => previewPosting(job.database, job.posting, job.path);
