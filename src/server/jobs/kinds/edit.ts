import type { TableLinks } from "@/core/posting/plan";
import type { Table } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import { type Edited, editRow, type RowEdit } from "@/server/jobs/posting/edit";
import type { NewEntry } from "@/server/jobs/posting/run";

declare module "@/server/engine/protocol" {
  interface Jobs {
    edit: { asks: { database: string; table: Table; links: TableLinks; change: RowEdit; entry: NewEntry }; gives: Edited };
  }
}

export const holdsUpOthers = true;

export const run: Run<"edit"> = (job) => editRow(job.database, job.table, job.links, job.change, job.entry);
