import type { Schema } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import { type LinkSuggestion, suggestLinks } from "@/server/jobs/links/evidence";
import { connection, inSnapshot } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    suggestLinks: { asks: { database: string; schema: Schema; table: string | null }; gives: LinkSuggestion[] };
  }
}

export const run: Run<"suggestLinks"> = (job) => inSnapshot(connection(job.database), () => suggestLinks(connection(job.database), job.schema, job.table));
