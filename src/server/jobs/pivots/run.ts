import { assemblingPivot } from "@/core/pivot/assemble";
import type { Pivot, PivotPlan } from "@/core/pivot/pivot";
import { recountPivot } from "@/core/pivot/recount";
import type { PivotRecount } from "@/core/pivot/seal";
import { answered } from "@/core/query/asking";
import type { Plan } from "@/core/query/plan";
import type { ReadTable } from "@/core/recount/recount";
import type { PivotJob } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";

/** Works a pivot out of a database; the caller keeps all its groupings in one moment. */
export const runPivot = (reading: Reading, { plan, locale }: PivotJob): Pivot =>
  answered(assemblingPivot(plan, locale.locale), (statement) => reading.ask(statement));

/** The plans a pivot reads: any grouping of it reads no other tables, and the names of its headings are rows of their own. */
export const pivotPlans = ({ plan, down, across }: PivotPlan): Plan[] => [plan, ...[...down, ...across].flatMap((axis) => axis.names ?? [])];

/** The pivot's totals by the recount, which takes longer than the figures and is asked for beside them. */
export const runPivotRecount = (tables: ReadTable, { plan }: PivotJob): PivotRecount => recountPivot(plan, tables);
