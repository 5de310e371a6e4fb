import type { Table } from "@/core/schema/schema";
import { counted, type Locale, writeCount } from "@/core/types/format";
import { COMMON } from "./words";

/** How many rows a table has, in words: about so many, where a server reckons. */
export function tableRows(table: Pick<Table, "rows" | "reckoned">, locale: Locale, noun?: "row"): string {
  const rows = noun ? counted(table.rows, noun, locale) : writeCount(table.rows, locale);
  return table.reckoned ? COMMON.about(rows) : rows;
}
