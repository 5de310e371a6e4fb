import type { Plan } from "@/core/query/plan";
import type { Run } from "@/server/engine/protocol";
import type { Entry } from "@/server/jobs/posting/journal";
import type { NewEntry } from "@/server/jobs/posting/run";
import { tableFromQuery } from "@/server/jobs/shape/run";
import { tableOnServer } from "@/server/jobs/shape/tableOnServer";
import { isServer } from "@/server/source/postgres/address";

declare module "@/server/engine/protocol" {
  interface Jobs {
    tableFromQuery: { asks: { database: string; plan: Plan; name: string; entry: NewEntry }; gives: Entry };
  }
}

export const holdsUpOthers = true;

export const run: Run<"tableFromQuery"> = (job) => (isServer(job.database) ? tableOnServer : tableFromQuery)(job.database, job.plan, job.name, job.entry);
