import type { Run } from "@/server/engine/protocol";
import { findEntries, type JournalPage, type JournalQuestion } from "@/server/jobs/posting/journalFind";
import { inSnapshotOf } from "@/server/source/connections";

declare module "@/server/engine/protocol" {
  interface Jobs {
    journal: { asks: { database: string } & JournalQuestion; gives: JournalPage };
  }
}

export const run: Run<"journal"> = (job) => inSnapshotOf(job.database, (db) => findEntries(db, job));
