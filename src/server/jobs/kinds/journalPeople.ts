import type { Run } from "@/server/engine/protocol";
import { peopleIn } from "@/server/jobs/posting/journalFind";
import { inSnapshotOf } from "@/server/source/connections";

declare module "@/server/engine/protocol" {
  interface Jobs {
    journalPeople: { asks: { database: string }; gives: string[] };
  }
}

export const run: Run<"journalPeople"> = (job) => inSnapshotOf(job.database, peopleIn);
