import type Database from "better-sqlite3";
import { assemblePivot, type Pivot } from "@/core/pivot/assemble";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { PivotJob } from "@/server/engine/jobs";
import { readRows } from "@/server/engine/readers";

/** Works a pivot out over a connection; the caller keeps all its groupings in one moment. */
export const runPivot = (db: Database.Database, { plan, locale }: PivotJob): Pivot =>
  assemblePivot(plan, (grouping) => readRows(db, compileRows(grouping, sqlite)), locale.locale);
