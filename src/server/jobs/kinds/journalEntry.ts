import type { Run } from "@/server/engine/protocol";
import { type Entry, readEntry } from "@/server/jobs/posting/journal";
import { inSnapshotOf } from "@/server/source/connections";

declare module "@/server/engine/protocol" {
  interface Jobs {
    journalEntry: { asks: { database: string; number: number }; gives: Entry | null };
  }
}

export const run: Run<"journalEntry"> = (job) => inSnapshotOf(job.database, (db) => readEntry(db, job.number));
