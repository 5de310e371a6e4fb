import type { Table } from "@/core/schema/schema";
import type { Run } from "@/server/engine/protocol";
import { type OutcomeStep, outcomeTable } from "@/server/jobs/posting/outcomeTable";

declare module "@/server/engine/protocol" {
  interface Jobs {
    outcomeTable: { asks: { path: string; steps: OutcomeStep[]; into: string }; gives: Table };
  }
}

export const run: Run<"outcomeTable"> = (job) => outcomeTable(job.path, job.steps, job.into);
