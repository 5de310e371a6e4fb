import type { Proof } from "@/core/proof/proof";
import type { Plan } from "@/core/query/plan";
import type { Run } from "@/server/engine/protocol";
import { proveQuery } from "@/server/jobs/queries/prove";
import { connection } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    proof: { asks: { database: string; plan: Plan; figure: string | null }; gives: Proof };
  }
}

export const run: Run<"proof"> = (job) => proveQuery(connection(job.database), job.plan, job.figure);
