import { randomUUID } from "node:crypto";
import { rmSync } from "node:fs";
import { wholeTable } from "@/core/query/wholeTable";
import type { RowFormat } from "@/core/schedule/choices";
import type { Table } from "@/core/schema/schema";
import type { JobResult } from "@/server/engine/protocol";
import type { Workspace } from "@/server/services/workspace/workspace";
import { temporaryFile } from "./source";

export type RowFile = { format: RowFormat; path: string };
export type LongCaller = { client: string; signal?: AbortSignal | undefined; timeLimitMs: number };

/** Writes a table into a file that is made for that alone. @param make writes the table into a database at a path */
export async function exportTable(
  ws: Workspace,
  make: (into: string) => Promise<Table>,
  { format, path }: RowFile,
  caller: LongCaller,
): Promise<JobResult["export"]> {
  const into = temporaryFile(ws, `source-${randomUUID()}`);
  try {
    const plan = wholeTable(await make(into), ws.today);
    return await ws.engine.run<"export">({ kind: "export", format, database: into, plan, path }, caller);
  } finally {
    rmSync(into, { force: true });
  }
}
