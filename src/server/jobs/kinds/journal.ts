import type { Run } from "@/server/engine/protocol";
import { findEntries, type JournalPage, type JournalQuestion } from "@/server/jobs/posting/journalFind";
import { connection, inSnapshot } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    journal: { asks: { database: string } & JournalQuestion; gives: JournalPage };
  }
}

export const run: Run<"journal"> = (job) => inSnapshot(connection(job.database), () => findEntries(connection(job.database), job));
