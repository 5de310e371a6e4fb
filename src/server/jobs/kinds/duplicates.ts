import type { Duplicates } from "@/core/duplicates/merging";
import type { PlanLink } from "@/core/posting/plan";
import type { Table } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import { findDuplicates } from "@/server/jobs/duplicates/find";
import { inSnapshotOf } from "@/server/source/connections";

declare module "@/server/engine/protocol" {
  interface Jobs {
    duplicates: { asks: { database: string; table: Table; links: PlanLink[]; question: { columns: string[]; near: boolean } }; gives: Duplicates };
  }
}

export const run: Run<"duplicates"> = (job) => inSnapshotOf(job.database, (db) => findDuplicates(db, job.table, job.links, job.question));
