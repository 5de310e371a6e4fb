import type { Table } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import { type RowChange, rowHistory } from "@/server/jobs/posting/rowHistory";
import { inSnapshotOf } from "@/server/source/connections";

declare module "@/server/engine/protocol" {
  interface Jobs {
    rowHistory: { asks: { database: string; table: Table; key: string[] }; gives: RowChange[] };
  }
}

export const run: Run<"rowHistory"> = (job) => inSnapshotOf(job.database, (db) => rowHistory(db, job.table, job.key));
