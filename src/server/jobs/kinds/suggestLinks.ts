import type { Schema } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import { type LinkSuggestion, suggestLinks } from "@/server/jobs/links/evidence";
import { inSnapshotOf } from "@/server/source/connections";

declare module "@/server/engine/protocol" {
  interface Jobs {
    suggestLinks: { asks: { database: string; schema: Schema; table: string | null }; gives: LinkSuggestion[] };
  }
}

export const run: Run<"suggestLinks"> = (job) => inSnapshotOf(job.database, (db) => suggestLinks(db, job.schema, job.table));
