import { relatedOf } from "@/core/report/edit";
import type { Part } from "@/core/report/page";
import type { ReportSpec } from "@/core/report/spec";
import { headingOf } from "./headings";
import type { ReportColumn } from "./reportColumn";
import { WORDS } from "./words";

/** What a column of a report is called, by its id. */
export function columnName(id: string, spec: ReportSpec, columns: ReportColumn[]): string {
  const column = spec.columns.find((c) => c.id === id);
  return column ? headingOf(column, columns) : WORDS.missingColumn;
}

/** What a part of a page is called. */
export function partName(part: Part, spec: ReportSpec, columns: ReportColumn[]): string {
  const heading = (id: string) => columnName(id, spec, columns);
  switch (part.kind) {
    case "heading":
      return WORDS.partHeading(part.level);
    case "columnHeading":
      return WORDS.partColumn(heading(part.column));
    case "value":
      return WORDS.partValues(heading(part.column));
    case "footing":
      return part.column === null ? WORDS.partFootingText : WORDS.partFooting(heading(part.column));
    case "related":
      return WORDS.partRelated(relatedOf(spec, part.id)?.title ?? "");
    default:
      return WORDS.partNames[part.kind];
  }
}
