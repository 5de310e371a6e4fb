import type { Run } from "@/server/engine/protocol";
import { type ShapeNow, shapeNow } from "@/server/jobs/shape/run";
import { connection } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    shapeNow: { asks: { database: string; table: string | null }; gives: ShapeNow };
  }
}

export const run: Run<"shapeNow"> = (job) => shapeNow(connection(job.database), job.table);
