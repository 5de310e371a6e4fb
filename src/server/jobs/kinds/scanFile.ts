import type { Clean, FileFormat } from "@/core/import/spec";
import type { Run } from "@/server/engine/protocol";
import { findFormat } from "@/server/jobs/import/format";
import { type Scan, scanFile } from "@/server/jobs/import/scan";
import { JobFailure } from "@/server/source/failures";

declare module "@/server/engine/protocol" {
  interface Jobs {
    scanFile: {
      asks: { path: string; name: string; format: FileFormat | null; cleans?: (Clean | undefined)[] };
      /** Where it cannot be read as it is said or found to be, `refused` says why: it may be read otherwise. */
      gives: { format: FileFormat; sheets: string[] } & ({ scan: Scan; refused?: undefined } | { scan: null; refused: string });
    };
  }
}

export const run: Run<"scanFile"> = async (job, { progress }) => {
  const found = await findFormat(job.path, job.name);
  const read = { format: job.format ?? found.format, sheets: found.sheets };
  try {
    return { ...read, scan: await scanFile(job.path, read.format, progress, job.cleans) };
  } catch (error) {
    if (!(error instanceof JobFailure && error.code === "fileRefused")) throw error;
    return { ...read, scan: null, refused: error.message };
  }
};
