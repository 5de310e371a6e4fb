import Papa from "papaparse";
import { GRAND } from "@/core/report/choices";
import { standsAt } from "@/core/report/figuresPlan";
import { tellGroups } from "@/core/report/groups";
import { levelWords } from "@/core/report/words";
import { cellWriter } from "@/core/types/format";
import { sourcesOf } from "@/server/jobs/reports/pages";
import type { ReportJob } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";
import { WholeFile } from "./files";
import { guardedText, plainText } from "./values";

/**
 * The footings of a report as CSV (RFC 4180), a line each: its level, what makes its group, its rows and its figures. What
 * groups are called is text, which no sheet program takes for a formula. @returns the lines written
 */
export function writeReportTotals(reading: Reading, job: ReportJob, path: string): { rows: number; bytes: number } {
  const { report, sources } = sourcesOf(reading, job);
  const { spec, levels, columns, figures } = report;
  const writers = levels.map((l) => cellWriter(l.column.type, l.column.format, job.locale));
  const text = (words: string) => guardedText(words, { kind: "text" });
  const write = (lines: string[][]) => `${Papa.unparse(lines, { newline: "\r\n" })}\r\n`;
  const file = new WholeFile(path);
  let rows = 0;
  try {
    const several = spec.lines.length > 1;
    const headings = columns.filter((c) => spec.lines.some((l) => l.cells[c.spec.id]));
    const heads = [...levels.map((l) => l.column.heading), ...(several ? ["Line"] : []), "Rows", ...headings.map((c) => c.spec.label ?? c.column.heading)];
    file.write(write([heads.map(text)]));
    for (const told of tellGroups(report, sources())) {
      if (told.kind !== "close") continue;
      const { group } = told;
      const own = figures[group.depth];
      const names = levels.map((l, i) => (i < group.depth ? levelWords(l, group.first, (cell) => writers[i]?.(cell).text ?? "").words : ""));
      for (const [n, line] of spec.lines.entries()) {
        if (!standsAt(line, levels[group.depth - 1]?.spec.id ?? GRAND)) continue;
        const cells = headings.map((c) => {
          const at = own?.cells[line.id]?.[c.spec.id];
          const figure = at === undefined ? undefined : own?.plan.columns[at];
          return figure && at !== undefined ? plainText(group.read?.[at] ?? null, figure.type) : "";
        });
        file.write(write([[...names.map(text), ...(several ? [String(n + 1)] : []), String(group.rows), ...cells]]));
        rows++;
      }
    }
    file.finish();
    return { rows, bytes: file.bytes };
  } catch (error) {
    file.abandon();
    throw error;
  }
}
