import type { Sql } from "@/core/query/compile";
import type { Cell } from "@/core/types/valueType";
import type { Run } from "@/server/engine/protocol";
import { connection, inSnapshot, readSingle } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    singles: { asks: { database: string; sqls: Sql[] }; gives: Cell[][] };
  }
}

export const run: Run<"singles"> = (job) => inSnapshot(connection(job.database), () => job.sqls.map((sql) => readSingle(connection(job.database), sql)));
