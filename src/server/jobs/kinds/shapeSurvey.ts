import type { ShapePlan } from "@/core/shape/shapePlan";
import type { ShapeSurvey } from "@/core/shape/survey";
import type { Run } from "@/server/engine/protocol";
import { surveyIn } from "@/server/jobs/shape/run";
import { connection, inSnapshot } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    shapeSurvey: { asks: { database: string; plan: ShapePlan }; gives: ShapeSurvey & { state: string } };
  }
}

export const holdsUpOthers = true;

export const run: Run<"shapeSurvey"> = (job) => inSnapshot(connection(job.database), () => surveyIn(job.database, connection(job.database), job.plan));
