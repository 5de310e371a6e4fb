"use client";

import type { MisfitRule } from "@/core/import/choices";
import { rowCleaner } from "@/core/import/clean";
import { numberText, shownWith } from "@/core/import/numbers";
import type { ImportColumn } from "@/core/import/spec";
import { cellOfStored, coerce } from "@/core/posting/coerce";
import { cellWriter } from "@/core/types/format";
import { isNumber, text } from "@/core/types/valueType";
import { Sheet } from "@/ui/Sheet";
import type { SheetCell } from "@/ui/sheetParts";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

type Props = { rows: string[][]; columns: ImportColumn[]; misfits: MisfitRule; comma: boolean };

/** The first rows of a file as they will stand in the table. */
export function FirstRows({ rows, columns, misfits, comma }: Props) {
  const locale = useLocale();
  const kept = columns.flatMap((column, at) =>
    column.left ? [] : [{ column, at, write: cellWriter(column.type, shownWith(column.affix).format ?? {}, locale) }],
  );
  const cellsOf = (row: string[]): SheetCell[] =>
    kept.map(({ column, at, write }) => {
      const source = row[at] ?? "";
      if (source === "") return { text: "" };
      const place = { label: column.name, type: column.type, storage: column.type.kind === "decimal" ? ("scaledInteger" as const) : ("plain" as const) };
      const made = coerce(isNumber(column.type) ? numberText(source, comma, column.affix) : source, text, place, column.dates);
      if ("why" in made) return misfits === "empty" ? { text: "" } : { text: source, tone: "misfit" };
      const written = write(cellOfStored(made.stored, place));
      return { text: written.text, tone: written.negative ? "negative" : undefined };
    });
  const cells = rows.map(rowCleaner(columns.map((c) => c.clean))).map(cellsOf);
  const shown = misfits === "leaveOut" ? cells.filter((row) => row.every((c) => c.tone !== "misfit")) : cells;
  return (
    <div className="flex min-h-64 flex-1 flex-col">
      <p className="caption pb-1">{WORDS.firstRowsAfterImport}</p>
      <Sheet
        label={WORDS.firstRowsAfterImport}
        columns={kept.map(({ column, at }) => ({
          id: String(at),
          heading: column.name,
          right: isNumber(column.type),
          width: Math.min(280, Math.max(90, column.name.length * 8 + 24, ...rows.slice(0, 20).map((r) => (r[at]?.length ?? 0) * 7 + 24))),
        }))}
        rowCount={shown.length}
        row={(i) => shown[i]}
        footing={null}
        onWindow={() => {}}
      />
    </div>
  );
}
