import type { RowsSql } from "@/core/query/compile";
import type { Run } from "@/server/engine/protocol";
import { connection, readRows, shownRows } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    rows: { asks: { database: string; sql: RowsSql }; gives: Buffer };
  }
}

export const run: Run<"rows"> = (job) => Buffer.from(JSON.stringify([...shownRows(readRows(connection(job.database), job.sql))]));
