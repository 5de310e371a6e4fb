import type { LinkSpec } from "@/core/schema/linkSpec";
import type { Run } from "@/server/engine/protocol";
import { type LinkEvidence, linkEvidence } from "@/server/jobs/links/evidence";
import { connection, inSnapshot } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    linkEvidence: { asks: { database: string; spec: LinkSpec }; gives: LinkEvidence };
  }
}

export const run: Run<"linkEvidence"> = (job) => inSnapshot(connection(job.database), () => linkEvidence(connection(job.database), job.spec));
