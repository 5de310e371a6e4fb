import type { ImportSpec } from "@/core/import/spec";
import type { Run } from "@/server/engine/protocol";
import { type Imported, importFile } from "@/server/jobs/import/run";
import type { NewEntry } from "@/server/jobs/posting/run";

declare module "@/server/engine/protocol" {
  interface Jobs {
    importFile: {
      asks: { path: string; spec: ImportSpec; into: { kind: "table"; database: string; entry: NewEntry } | { kind: "stage"; path: string } };
      gives: Imported;
    };
  }
}

export const holdsUpOthers = true;

export const run: Run<"importFile"> = (job, { progress }) => importFile(job.path, job.spec, job.into, progress);
