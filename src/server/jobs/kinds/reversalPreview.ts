import type { Schema } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import type { Reversal } from "@/server/jobs/posting/reverse";
import { previewReversal } from "@/server/jobs/posting/run";

declare module "@/server/engine/protocol" {
  interface Jobs {
    reversalPreview: { asks: { database: string; schema: Schema; number: number; force: boolean; path: string }; gives: Reversal };
  }
}

export const holdsUpOthers = true;

export const run: Run<"reversalPreview"> = (job) => previewReversal(job.database, job.schema, job.number, job.force, job.path);
