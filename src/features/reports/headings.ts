import type { ReportColumn as Printed } from "@/core/report/spec";
import type { ValueType } from "@/core/types/valueType";
import type { ReportColumn } from "./reportColumn";
import { WORDS } from "./words";

/** What a column of a report is called: its own heading, else that of the query's column, else its formula. */
export function headingOf({ label, value }: Printed, columns: ReportColumn[]): string {
  if (label) return label;
  if (value.kind === "formula") return value.text.trim() || WORDS.formulaColumn;
  return columns.find((c) => c.id === value.column)?.heading ?? WORDS.missingColumn;
}

/** The type of a column of the query that a report prints; what a formula comes to is not known here. */
export const typeOf = ({ value }: Printed, columns: ReportColumn[]): ValueType | undefined =>
  value.kind === "field" ? columns.find((c) => c.id === value.column)?.type : undefined;
