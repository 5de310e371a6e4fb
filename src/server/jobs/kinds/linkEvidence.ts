import type { LinkSpec } from "@/core/schema/linkSpec";
import type { Run } from "@/server/engine/protocol";
import { type LinkEvidence, linkEvidence } from "@/server/jobs/links/evidence";
import { inSnapshotOf } from "@/server/source/connections";

declare module "@/server/engine/protocol" {
  interface Jobs {
    linkEvidence: { asks: { database: string; spec: LinkSpec }; gives: LinkEvidence };
  }
}

export const run: Run<"linkEvidence"> = (job) => inSnapshotOf(job.database, (db) => linkEvidence(db, job.spec));
