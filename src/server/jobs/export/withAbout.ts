import { createReadStream, rmSync, statSync } from "node:fs";
import { type AboutCell, type AboutFile, aboutLines } from "@/core/proof/aboutFile";
import type { Plan } from "@/core/query/plan";
import type { RowFormat } from "@/core/schedule/choices";
import { cellWriter } from "@/core/types/format";
import { fileName } from "@/server/common/fileName";
import { zipFile } from "@/server/jobs/archive";
import { proveQuery } from "@/server/jobs/queries/prove";
import type { FileResult } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";
import type { Told } from "@/server/source/rows";
import { exportRows } from "./rows";
import { exportXlsx } from "./xlsx";

type AboutJob = { plan: Plan; format: RowFormat; path: string; guarded?: boolean; about: AboutFile & { figure: string | null } };

/**
 * Writes a query's rows with what they are of: its brief, its parameters' values and its proof, of the same moment as the
 * rows. In a workbook that is a second sheet; else the file and a text beside it come as a ZIP archive.
 */
export async function exportWithAbout(reading: Reading, { plan, format, path, guarded, about }: AboutJob, told?: Told): Promise<FileResult> {
  const lines = aboutLines(about, plan, proveQuery(reading, plan, about.figure));
  if (format === "xlsx") return exportXlsx(reading, plan, path, { about: lines, told });
  const part = `${path}.rows`;
  try {
    const made = await exportRows[format](reading, plan, part, guarded, told);
    await zipFile(path, async (add) => {
      await add(fileName(about.title, format), createReadStream(part) as AsyncIterable<Buffer>);
      await add(fileName(`${about.title}, about`, "txt"), Buffer.from(aboutText(lines, about)));
    });
    return { ...made, bytes: statSync(path).size };
  } finally {
    rmSync(part, { force: true });
  }
}

/** The lines as a text, cells parted by tabs, values as the workspace writes them. */
function aboutText(lines: AboutCell[][], { locale }: AboutFile): string {
  const said = (cell: AboutCell) => (typeof cell === "string" ? cell : cellWriter(cell.type, {}, locale)(cell.value).text);
  return lines.map((line) => `${line.map(said).join("\t")}\n`).join("");
}
