import type { ValueCandidate } from "@/core/posting/valuePairs";
import type { Run } from "@/server/engine/protocol";
import { valueShares } from "@/server/jobs/posting/valueShares";
import { inSnapshotOf } from "@/server/source/connections";

declare module "@/server/engine/protocol" {
  interface Jobs {
    valueShares: { asks: { database: string; staged: string; candidates: ValueCandidate[] }; gives: number[] };
  }
}

export const run: Run<"valueShares"> = (job) => inSnapshotOf(job.database, (db) => valueShares(db, job.staged, job.candidates));
