import { assemblingPivot, MOST } from "@/core/pivot/assemble";
import { answeredLater } from "@/core/query/asking";
import type { Run } from "@/server/engine/protocol";
import { pivotPlans } from "@/server/jobs/pivots/run";
import type { PivotJob } from "@/server/jobs/work";
import { readingOf } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    pivot: { asks: { database: string; pivot: PivotJob; asOf?: string[] }; gives: Buffer };
  }
}

export const run: Run<"pivot"> = ({ database, pivot, asOf }) =>
  readingOf(
    database,
    pivotPlans(pivot.plan),
    async (reader) => {
      const answer = await answeredLater(assemblingPivot(pivot.plan, pivot.locale.locale), (statement) => reader.answer(statement, MOST.groups));
      return Buffer.from(JSON.stringify({ ...answer, asOf: reader.asOf }));
    },
    asOf,
  );
