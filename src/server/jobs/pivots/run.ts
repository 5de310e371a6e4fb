import type Database from "better-sqlite3";
import { assemblingPivot } from "@/core/pivot/assemble";
import type { Pivot, PivotPlan } from "@/core/pivot/pivot";
import { recountPivot } from "@/core/pivot/recount";
import type { PivotRecount } from "@/core/pivot/seal";
import { answered } from "@/core/query/asking";
import type { Plan } from "@/core/query/plan";
import type { PivotJob } from "@/server/jobs/work";
import { inSnapshot, readStatement } from "@/server/source/sqlite/readers";
import { tableReader } from "@/server/source/sqlite/tables";

/** Works a pivot out over a connection; the caller keeps all its groupings in one moment. */
export const runPivot = (db: Database.Database, { plan, locale }: PivotJob): Pivot =>
  answered(assemblingPivot(plan, locale.locale), (statement) => readStatement(db, statement));

/** The plans a pivot reads: any grouping of it reads no other tables, and the names of its headings are rows of their own. */
export const pivotPlans = ({ plan, down, across }: PivotPlan): Plan[] => [plan, ...[...down, ...across].flatMap((axis) => axis.names ?? [])];

/** The pivot's totals by the recount, which takes longer than the figures and is asked for beside them. */
export const runPivotRecount = (db: Database.Database, { plan }: PivotJob): PivotRecount => inSnapshot(db, () => recountPivot(plan, tableReader(db)));
