import type { Run } from "@/server/engine/protocol";
import { type Merging, mergeRows } from "@/server/jobs/duplicates/merge";
import type { Entry } from "@/server/jobs/posting/journal";
import type { NewEntry } from "@/server/jobs/posting/run";

declare module "@/server/engine/protocol" {
  interface Jobs {
    merge: { asks: { database: string; merging: Merging; digest: string; entry: NewEntry }; gives: Entry };
  }
}

export const holdsUpOthers = true;

export const run: Run<"merge"> = (job) => mergeRows(job.database, job.merging, job.digest, job.entry);
