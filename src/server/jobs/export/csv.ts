import Papa from "papaparse";
import type { Plan } from "@/core/query/plan";
import type { FileResult } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";
import type { Told } from "@/server/source/rows";
import { guardedText, plainText } from "./values";
import { exportWhole } from "./whole";

const ROWS_AT_ONCE = 500;

/** What stands between values: a comma, or a tab, where a value that holds one is quoted alike. */
type Delimiter = "," | "\t";

type Asked = { guarded?: boolean | undefined; delimiter?: Delimiter; told?: Told | undefined };

/**
 * Lines of CSV (RFC 4180: CRLF, quotes doubled), or of the same with tabs, out of a query's rows, in chunks; the heading first.
 * @param guarded for people who open it in a sheet program: no text is taken for a formula there
 */
export function* csvChunks(reading: Reading, plan: Plan, guarded = false, delimiter: Delimiter = ","): Generator<{ text: string; rows: number }> {
  const shown = plan.columns.flatMap((c, at) => (c.hidden ? [] : [{ at, column: c }]));
  const text = guarded ? guardedText : plainText;
  // A value that is alone in its line and empty is quoted: an empty line is passed over by whoever reads it.
  const quotes = shown.length === 1 ? (value: string) => value === "" : false;
  const write = (lines: string[][]) => `${Papa.unparse(lines, { newline: "\r\n", delimiter, quotes })}\r\n`;
  yield { text: write([shown.map((s) => text(s.column.heading, { kind: "text" }))]), rows: 0 };
  let lines: string[][] = [];
  for (const row of reading.ask({ of: "rows", plan })) {
    lines.push(shown.map(({ at, column }) => text(row[at] ?? null, column.type)));
    if (lines.length < ROWS_AT_ONCE) continue;
    yield { text: write(lines), rows: lines.length };
    lines = [];
  }
  if (lines.length > 0) yield { text: write(lines), rows: lines.length };
}

/** Writes a query's rows to a CSV file, whole or not at all, with the footing of the very rows it holds. */
export const exportCsv = (reading: Reading, plan: Plan, path: string, { guarded = false, delimiter = ",", told }: Asked = {}): FileResult =>
  exportWhole(reading, plan, path, (file) => {
    let rows = 0;
    for (const chunk of csvChunks(reading, plan, guarded, delimiter)) {
      file.write(chunk.text);
      rows += chunk.rows;
      told?.(rows);
    }
    return rows;
  });
