import { columnsProposed, tableNameOf } from "@/core/import/propose";
import type { ImportSpec } from "@/core/import/spec";
import type { BroughtFile } from "@/server/services/import/files";
import type { ScanAnswer } from "@/server/services/import/service";
import { AskError, askFile, askWork } from "../ask";

/** Where an import is, of the three steps it takes: sending, reading what is in it, taking it in. */
const SENT = 0.2;
const READ = 0.6;

/**
 * Takes a list in as a table of its own, read as its values speak for.
 * @param taken names of tables that there are
 * @param onProgress told how far it is, 0 to 1
 * @returns the name of its table
 * @throws AskError with what stands in the way; then nothing is taken in
 */
export async function bringList(file: File, taken: readonly string[], onProgress: (share: number) => void, signal: AbortSignal): Promise<string> {
  onProgress(0);
  const { id } = await askFile<BroughtFile>("/api/imports", file);
  const { format, scan, refused } = await askWork<ScanAnswer>(
    `/api/imports/${id}/scan`,
    { format: null },
    (share) => onProgress(SENT + share * (READ - SENT)),
    signal,
  );
  if (!scan) throw new AskError({ sentence: refused, code: "refused", problems: [] });
  const name = freeName(tableNameOf(file.name), taken);
  const spec: ImportSpec = { format, columns: columnsProposed(scan), misfits: "keep", into: { kind: "table", name, key: null } };
  await askWork(`/api/imports/${id}/run`, spec, (share) => onProgress(READ + share * (1 - READ)), signal);
  return name;
}

/** A name that no table has: “agent october”, then “agent october 2”. */
function freeName(wanted: string, taken: readonly string[]): string {
  const known = new Set(taken.map((name) => name.toLowerCase()));
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : `${wanted}_${n}`;
    if (!known.has(name.toLowerCase())) return name;
  }
}
