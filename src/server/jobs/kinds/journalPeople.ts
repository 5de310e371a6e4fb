import type { Run } from "@/server/engine/protocol";
import { peopleIn } from "@/server/jobs/posting/journalFind";
import { connection } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    journalPeople: { asks: { database: string }; gives: string[] };
  }
}

export const run: Run<"journalPeople"> = (job) => peopleIn(connection(job.database));
