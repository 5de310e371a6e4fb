import type { Table } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import type { Entry } from "@/server/jobs/posting/journal";
import type { NewEntry } from "@/server/jobs/posting/run";
import { dropWhole } from "@/server/jobs/shape/run";

declare module "@/server/engine/protocol" {
  interface Jobs {
    dropTable: { asks: { database: string; table: Table; entry: NewEntry }; gives: Entry };
  }
}

export const holdsUpOthers = true;

export const run: Run<"dropTable"> = (job) => dropWhole(job.database, job.table, job.entry);
