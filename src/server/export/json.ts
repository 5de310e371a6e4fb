import type Database from "better-sqlite3";
import { compileFooting, compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { Plan } from "@/core/query/plan";
import { type Cell, isMisfit, isNumber, type ValueType } from "@/core/types/valueType";
import type { FileResult } from "@/server/engine/jobs";
import { inSnapshot, readRows, readSingle } from "@/server/engine/readers";
import { WholeFile } from "./files";
import { isSafeNumber, plainText } from "./values";

const ROWS_AT_ONCE = 500;

/** A cell as JSON: numbers with all their digits, as text where a reader could lose some; yes/no as true and false. */
export function jsonValue(cell: Cell, type: ValueType): string {
  if (cell === null) return "null";
  const text = plainText(cell, type);
  if (isMisfit(cell)) return JSON.stringify(text);
  if (type.kind === "yesno") return Number(cell) === 1 ? "true" : "false";
  return isNumber(type) && (type.kind === "floating" || isSafeNumber(text)) ? text : JSON.stringify(text);
}

/** Writes a query's rows as JSON objects by heading, in one list or a line each, whole or not at all. */
export function exportJson(db: Database.Database, plan: Plan, path: string, lines: boolean): FileResult {
  return inSnapshot(db, () => {
    const file = new WholeFile(path);
    try {
      const shown = plan.columns.flatMap((c, at) => (c.hidden ? [] : [{ at, type: c.type, name: JSON.stringify(c.heading) }]));
      let rows = 0;
      let waiting: string[] = [];
      const [open, between, close] = lines ? ["", "\n", "\n"] : ["[\n", ",\n", "\n]\n"];
      file.write(open);
      const flush = () => {
        if (waiting.length > 0) file.write((rows > waiting.length ? between : "") + waiting.join(between));
        waiting = [];
      };
      for (const row of readRows(db, compileRows(plan, sqlite))) {
        waiting.push(`{${shown.map(({ at, type, name }) => `${name}:${jsonValue(row[at] ?? null, type)}`).join(",")}}`);
        rows++;
        if (waiting.length >= ROWS_AT_ONCE) flush();
      }
      flush();
      file.write(rows > 0 || !lines ? close : "");
      const footing = compileFooting(plan, sqlite);
      const [, ...totals] = readSingle(db, footing);
      file.finish();
      return { rows, bytes: file.bytes, totals: Object.fromEntries(footing.totals.map((t, i) => [t.column, totals[i] ?? null])) };
    } catch (error) {
      file.abandon();
      throw error;
    }
  });
}
