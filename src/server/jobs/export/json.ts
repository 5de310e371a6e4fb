import type { Plan } from "@/core/query/plan";
import { type Cell, isMisfit, isNumber, type ValueType } from "@/core/types/valueType";
import type { FileResult } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";
import { type Told, toldRows } from "@/server/source/rows";
import { isSafeNumber, plainText } from "./values";
import { exportWhole } from "./whole";

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
export const exportJson = (reading: Reading, plan: Plan, path: string, lines: boolean, told?: Told): FileResult =>
  exportWhole(reading, plan, path, (file) => {
    const shown = plan.columns.flatMap((c, at) => (c.hidden ? [] : [{ at, type: c.type, name: JSON.stringify(c.heading) }]));
    const [open, between, close] = lines ? ["", "\n", "\n"] : ["[\n", ",\n", "\n]\n"];
    let rows = 0;
    let waiting: string[] = [];
    const flush = () => {
      if (waiting.length > 0) file.write((rows > waiting.length ? between : "") + waiting.join(between));
      waiting = [];
    };
    file.write(open);
    for (const row of toldRows(reading.ask({ of: "rows", plan }), told)) {
      waiting.push(`{${shown.map(({ at, type, name }) => `${name}:${jsonValue(row[at] ?? null, type)}`).join(",")}}`);
      rows++;
      if (waiting.length >= ROWS_AT_ONCE) flush();
    }
    flush();
    file.write(rows > 0 || !lines ? close : "");
    return rows;
  });
