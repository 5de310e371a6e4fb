import type { ValueCandidate } from "@/core/posting/valuePairs";
import type { Run } from "@/server/engine/protocol";
import { valueShares } from "@/server/jobs/posting/valueShares";
import { connection, inSnapshot } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    valueShares: { asks: { database: string; staged: string; candidates: ValueCandidate[] }; gives: number[] };
  }
}

export const run: Run<"valueShares"> = (job) => inSnapshot(connection(job.database), () => valueShares(connection(job.database), job.staged, job.candidates));
