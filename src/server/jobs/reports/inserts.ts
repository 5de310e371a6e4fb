import { planChart } from "@/core/chart/plan";
import type { PivotPlan } from "@/core/pivot/pivot";
import { planPivot, withAxisNames } from "@/core/pivot/plan";
import type { Inserted, ReadInsert } from "@/core/report/inserts";
import { planGroupRows } from "@/core/report/rowsBehind";
import { type Checked, ProblemError } from "@/core/types/problem";
import { runChart } from "@/server/jobs/charts/run";
import { runPivot } from "@/server/jobs/pivots/run";
import type { InsertJob, ReportJob } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";

/* The charts and cross-tables of a report's groups: each a saved one, worked out over the rows that a figure of its group opens. */

const checked = <T>(made: Checked<T>): T => {
  if (!made.ok) throw new ProblemError(made.problems);
  return made.value;
};

/** Pictures have so many pixels a point, so that they stay sharp in print (144 a inch). */
const PIXELS_PER_POINT = 2;

let charts: typeof import("@/server/jobs/export/chart") | null = null;

/** Loads what draws charts, where a report has any in its groups: it takes longer than all the rest of a first page. */
export async function readyInserts({ inserts }: ReportJob): Promise<void> {
  if (Object.values(inserts).some((i) => i.kind === "chart")) charts ??= await import("@/server/jobs/export/chart");
}

/** Works out inserts of a database, once they are ready. @throws ProblemError where one cannot be asked */
export function insertReader(reading: Reading, { report, over, inserts, locale }: ReportJob): ReadInsert {
  return (insert, keys) => {
    const job = inserts[insert.id];
    if (!over || !job) throw new Error(`An insert ${insert.id} was not made ready.`);
    const { query, schema, context } = over;
    const rows = checked(planGroupRows(report.spec, query, schema, context, keys));
    const named = (plan: PivotPlan): PivotPlan => withAxisNames(plan, schema, { ...context, values: {} });
    return job.kind === "pivot" ? pivotOf(job) : chartOf(job);

    function pivotOf({ spec, title }: Extract<InsertJob, { kind: "pivot" }>): Inserted {
      const plan = named(checked(planPivot(spec, rows, { ...context, values: { ...spec.parameters, ...context.values } })));
      const pivot = runPivot(reading, { plan, locale });
      return { kind: "pivot", title, spec, pivot, rows: spec.conditions.length === 0 ? pivot.proof.rows.query : null };
    }

    function chartOf({ spec, title, band, chosen }: Extract<InsertJob, { kind: "chart" }>): Inserted {
      const made = checked(planChart(spec, rows, { ...context, values: { ...spec.pivot.parameters, ...context.values } }, band));
      const plan = "pivot" in made ? { ...made, pivot: named(made.pivot) } : made;
      const answer = runChart(reading, { spec, plan, earlier: null, locale });
      const counted = "pivot" in answer && spec.pivot.conditions.length === 0 ? answer.pivot.proof.rows.query : null;
      const draw = charts?.chartPicture;
      if (!draw) throw new Error("Charts are not ready.");
      const picture = (width: number, height: number) =>
        draw({ spec, locale }, answer, chosen, { width: Math.round(width * PIXELS_PER_POINT), height: Math.round(height * PIXELS_PER_POINT) }).toString(
          "base64",
        );
      return { kind: "chart", title, rows: counted, picture };
    }
  };
}
