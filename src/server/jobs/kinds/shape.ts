import type { ShapePlan } from "@/core/shape/shapePlan";
import type { Run } from "@/server/engine/protocol";
import type { Entry } from "@/server/jobs/posting/journal";
import type { NewEntry } from "@/server/jobs/posting/run";
import { shapeTable } from "@/server/jobs/shape/run";

declare module "@/server/engine/protocol" {
  interface Jobs {
    shape: { asks: { database: string; plan: ShapePlan; digest: string; entry: NewEntry; seen: string | null }; gives: Entry };
  }
}

export const holdsUpOthers = true;

export const run: Run<"shape"> = (job) => shapeTable(job.database, job.plan, job.digest, job.entry, job.seen);
