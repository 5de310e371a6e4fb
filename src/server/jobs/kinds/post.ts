import type { Run } from "@/server/engine/protocol";
import type { Entry } from "@/server/jobs/posting/journal";
import { type NewEntry, post } from "@/server/jobs/posting/run";
import type { PostingJob } from "@/server/jobs/work";

declare module "@/server/engine/protocol" {
  interface Jobs {
    post: { asks: { database: string; posting: PostingJob; digest: string; again: boolean; entry: NewEntry }; gives: Entry };
  }
}

export const holdsUpOthers = true;

export const run: Run<"post"> = (job) => post(job.database, job.posting, job);
