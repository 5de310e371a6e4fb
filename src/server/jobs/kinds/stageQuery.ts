import type { Plan } from "@/core/query/plan";
import type { Table } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import { stageQuery } from "@/server/jobs/posting/stage";

declare module "@/server/engine/protocol" {
  interface Jobs {
    stageQuery: { asks: { database: string; plan: Plan; path: string }; gives: Table };
  }
}

export const run: Run<"stageQuery"> = (job) => stageQuery(job.database, job.plan, job.path);
