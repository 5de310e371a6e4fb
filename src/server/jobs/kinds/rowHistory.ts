import type { Table } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import { type RowChange, rowHistory } from "@/server/jobs/posting/rowHistory";
import { connection, inSnapshot } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    rowHistory: { asks: { database: string; table: Table; key: string[] }; gives: RowChange[] };
  }
}

export const run: Run<"rowHistory"> = (job) => inSnapshot(connection(job.database), () => rowHistory(connection(job.database), job.table, job.key));
