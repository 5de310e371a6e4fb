import type Database from "better-sqlite3";
import { assemblePivot } from "@/core/pivot/assemble";
import type { Pivot } from "@/core/pivot/pivot";
import { recountPivot } from "@/core/pivot/recount";
import type { PivotRecount } from "@/core/pivot/seal";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { PivotJob } from "@/server/jobs/work";
import { inSnapshot, readRows } from "@/server/source/sqlite/readers";
import { tableReader } from "@/server/source/sqlite/tables";

/** Works a pivot out over a connection; the caller keeps all its groupings in one moment. */
export const runPivot = (db: Database.Database, { plan, locale }: PivotJob): Pivot =>
  assemblePivot(plan, (grouping) => readRows(db, compileRows(grouping, sqlite)), locale.locale);

/** The pivot's totals by the recount, which takes longer than the figures and is asked for beside them. */
export const runPivotRecount = (db: Database.Database, { plan }: PivotJob): PivotRecount => inSnapshot(db, () => recountPivot(plan, tableReader(db)));
