import type { Run } from "@/server/engine/protocol";
import { type Entry, readEntry } from "@/server/jobs/posting/journal";
import { connection, inSnapshot } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    journalEntry: { asks: { database: string; number: number }; gives: Entry | null };
  }
}

export const run: Run<"journalEntry"> = (job) => inSnapshot(connection(job.database), () => readEntry(connection(job.database), job.number));
