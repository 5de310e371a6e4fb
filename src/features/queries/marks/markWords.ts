import { type Mark, needsValue, testWords } from "@/core/query/marks";
import type { PlanColumn } from "@/core/query/plan";
import { parseDecimal } from "@/core/types/decimal";
import { cellWriter, type Locale } from "@/core/types/format";
import { isDated, isExact, scaleOf } from "@/core/types/valueType";
import { WORDS } from "../words";

/** A mark's rule in words: "Freight is at least 100.00"; of another column, which cells it marks; of a bar, how long it is. */
export function markWords(mark: Mark, columns: readonly PlanColumn[], locale: Locale): string {
  const heading = (id: string) => columns.find((c) => c.id === id)?.heading ?? "";
  if (mark.look === "bar") return WORDS.barOf(heading(mark.column));
  const asked = columns.find((c) => c.id === (mark.by ?? mark.column));
  if (!asked) return "";
  const rule = `${asked.heading} ${testWords(mark.test, asked.type)}${needsValue(mark.test) ? ` ${valueWords(mark.value, asked, locale)}` : ""}`;
  return mark.by === undefined ? rule : WORDS.markedBy(heading(mark.column), rule);
}

/** A rule's value as the cells of its column are written; as it was typed where it is no such value. */
function valueWords(text: string, { type, format }: PlanColumn, locale: Locale): string {
  if (text === "") return "…";
  const cell = isExact(type) ? (parseDecimal(text, scaleOf(type))?.toString() ?? null) : type.kind === "floating" ? Number(text) : isDated(type) ? text : null;
  return (cell !== null && cellWriter(type, format, locale)(cell).text) || text;
}
