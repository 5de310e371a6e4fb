import type { Schema } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import { type NewEntry, type ReversedEntry, reverse } from "@/server/jobs/posting/run";

declare module "@/server/engine/protocol" {
  interface Jobs {
    reverse: {
      asks: { database: string; schema: Schema; number: number; force: boolean; digest: string; entry: Omit<NewEntry, "table"> };
      gives: ReversedEntry;
    };
  }
}

export const holdsUpOthers = true;

export const run: Run<"reverse"> = (job) => reverse(job.database, job.schema, job.number, job.force, job.digest, job.entry);
