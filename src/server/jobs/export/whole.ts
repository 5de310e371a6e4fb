import type Database from "better-sqlite3";
import { sqlite } from "@/core/query/dialect/sqlite";
import { compileFooting } from "@/core/query/footing";
import type { Plan } from "@/core/query/plan";
import type { Cell } from "@/core/types/valueType";
import type { FileResult } from "@/server/jobs/work";
import { inSnapshot, readSingle } from "@/server/source/sqlite/readers";
import { WholeFile } from "./files";

/** The totals of the very rows an export holds; read in its transaction. */
export function totalsOf(db: Database.Database, plan: Plan): Record<string, Cell> {
  const footing = compileFooting(plan, sqlite);
  const [, ...totals] = readSingle(db, footing);
  return Object.fromEntries(footing.totals.map((t, i) => [t.column, totals[i] ?? null]));
}

/** Writes a file out of a query's rows, whole or not at all, all of one moment. @param write gives back how many rows it wrote */
export function exportWhole(db: Database.Database, plan: Plan, path: string, write: (file: WholeFile) => number): FileResult {
  return inSnapshot(db, () => {
    const file = new WholeFile(path);
    try {
      const rows = write(file);
      const totals = totalsOf(db, plan);
      file.finish();
      return { rows, bytes: file.bytes, totals };
    } catch (error) {
      file.abandon();
      throw error;
    }
  });
}
