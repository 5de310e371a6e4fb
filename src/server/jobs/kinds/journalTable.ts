import type { JournalExport } from "@/core/posting/journalFind";
import type { Schema, Table } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import type { JournalQuestion } from "@/server/jobs/posting/journalFind";
import { journalTable } from "@/server/jobs/posting/journalTable";

declare module "@/server/engine/protocol" {
  interface Jobs {
    journalTable: { asks: { database: string; schema: Schema; what: JournalExport; question: Omit<JournalQuestion, "limit">; into: string }; gives: Table };
  }
}

export const run: Run<"journalTable"> = (job) => journalTable(job.database, job.schema, job.what, job.question, job.into);
