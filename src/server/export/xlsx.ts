import { statSync } from "node:fs";
import type Database from "better-sqlite3";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { Plan } from "@/core/query/plan";
import { compileSheet, SUBTOTAL_WORD, subtotalOf } from "@/core/query/subtotals";
import { inLongSnapshot, readRows } from "@/server/engine/readers";
import type { FileResult } from "@/server/engine/work";
import { totalsOf } from "./whole";
import { formatOf, workbookValue, writeWorkbook } from "./workbook";

/** What one sheet of a workbook can hold (ISO/IEC 29500 sets no bound; this is what its readers take). */
const MOST_ROWS = 1_048_575;

/** Writes a query's rows to a workbook of one sheet, whole or not at all, in streamed memory. */
export async function exportXlsx(db: Database.Database, plan: Plan, path: string): Promise<FileResult> {
  const shown = plan.columns.flatMap((c, at) => (c.hidden ? [] : [{ at, column: c }]));
  return inLongSnapshot(db, async () => {
    const { rows, totals } = await writeWorkbook(path, async (workbook, breath) => {
      const sheet = workbook.addWorksheet("rows", { views: [{ state: "frozen", ySplit: 1 }] });
      sheet.columns = shown.map(({ column }) => ({
        header: column.heading,
        key: column.id,
        width: Math.max(10, column.heading.length + 2),
        style: formatOf(column.type),
      }));
      let written = 0;
      let subtotals = 0;
      for (const row of readRows(db, compileSheet(plan, sqlite))) {
        if (++written > MOST_ROWS) throw new RangeError("A workbook can have 1,048,575 rows. Add conditions, or export CSV.");
        const subtotal = subtotalOf(plan, row);
        const line = sheet.addRow(shown.map(({ at, column }) => (at === subtotal?.label ? SUBTOTAL_WORD : workbookValue(row[at] ?? null, column.type))));
        if (subtotal) {
          line.font = { bold: true };
          subtotals++;
        }
        line.commit();
        await breath(written);
      }
      return { rows: written - subtotals, totals: totalsOf(db, plan) };
    });
    return { rows, bytes: statSync(path).size, totals };
  });
}
