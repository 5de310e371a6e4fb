import { sqlite } from "@/core/query/dialect/sqlite";
import { compileFooting } from "@/core/query/footing";
import type { Plan } from "@/core/query/plan";
import type { Cell } from "@/core/types/valueType";
import type { FileResult } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";
import { WholeFile } from "./files";

/** The totals of the very rows an export holds; read in its transaction. */
export function totalsOf(reading: Reading, plan: Plan): Record<string, Cell> {
  // What stands where in a footing is the same in every dialect.
  const footing = compileFooting(plan, sqlite);
  const [row = []] = reading.ask({ of: "footing", plan });
  const [, ...totals] = row;
  return Object.fromEntries(footing.totals.map((t, i) => [t.column, totals[i] ?? null]));
}

/** Writes a file out of a query's rows, whole or not at all, all of one moment. @param write gives back how many rows it wrote */
export function exportWhole(reading: Reading, plan: Plan, path: string, write: (file: WholeFile) => number): FileResult {
  const file = new WholeFile(path);
  try {
    const rows = write(file);
    const totals = totalsOf(reading, plan);
    file.finish();
    return { rows, bytes: file.bytes, totals };
  } catch (error) {
    file.abandon();
    throw error;
  }
}
