import type { Duplicates } from "@/core/duplicates/merging";
import type { PlanLink } from "@/core/posting/plan";
import type { Table } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import { findDuplicates } from "@/server/jobs/duplicates/find";
import { connection, inSnapshot } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    duplicates: { asks: { database: string; table: Table; links: PlanLink[]; question: { columns: string[]; near: boolean } }; gives: Duplicates };
  }
}

export const run: Run<"duplicates"> = (job) =>
  inSnapshot(connection(job.database), () => findDuplicates(connection(job.database), job.table, job.links, job.question));
