import type { Clean, FileFormat } from "@/core/import/spec";
import type { Run } from "@/server/engine/protocol";
import { findFormat } from "@/server/jobs/import/format";
import { type Scan, scanFile } from "@/server/jobs/import/scan";

declare module "@/server/engine/protocol" {
  interface Jobs {
    scanFile: {
      asks: { path: string; name: string; format: FileFormat | null; cleans?: (Clean | undefined)[] };
      gives: { format: FileFormat; sheets: string[]; scan: Scan };
    };
  }
}

export const run: Run<"scanFile"> = async (job, { progress }) => {
  const found = await findFormat(job.path, job.name);
  const format = job.format ?? found.format;
  return { format, sheets: found.sheets, scan: await scanFile(job.path, format, progress, job.cleans) };
};
