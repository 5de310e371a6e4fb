import type { Plan } from "@/core/query/plan";
import type { Table } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import { stageQuery } from "@/server/jobs/posting/stage";
import { reading } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    stageQuery: { asks: { database: string; plan: Plan; path: string }; gives: Table };
  }
}

export const run: Run<"stageQuery"> = (job) => reading(job.database, (r) => stageQuery(r, job.plan, job.path));
