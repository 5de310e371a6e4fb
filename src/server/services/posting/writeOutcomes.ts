import type { PostingStep } from "@/core/posting/spec";
import { findTable } from "@/core/schema/schema";
import type { Workspace } from "@/server/services/workspace/workspace";
import { exportTable, type LongCaller, type RowFile } from "./exportTable";
import { type Preview, previewFile } from "./service";

/** Writes what becomes of every row of a posting into a file. */
export async function writeOutcomes(
  ws: Workspace,
  { preview, steps }: { preview: Pick<Preview, "id" | "pairs">; steps: Pick<PostingStep, "target">[] },
  file: RowFile,
  caller: LongCaller,
) {
  const schema = await ws.schema();
  const shown = steps.map(({ target }, i) => ({
    label: findTable(schema, target)?.label ?? target,
    pairs: (preview.pairs[i] ?? []).map(({ label, type }) => ({ label, type })),
  }));
  const path = previewFile(ws, preview.id);
  return exportTable(ws, (into) => ws.engine.run<"outcomeTable">({ kind: "outcomeTable", path, steps: shown, into }, caller), file, caller);
}
