import type { Column, Table } from "./schema";

/** What a column is called that holds what a row is called by, the likeliest first (common practice). */
const NAMES = [/^name$/i, /^(title|label)$/i, /(^|[_ ])name$/i, /^(description|code|waybill no|number|no)$/i];

/**
 * The column whose value a row is called by: a text that is called a name. The table's other columns do not matter.
 * @returns undefined where no column is called so
 * @example nameColumn(shipper)?.name // "name"
 */
export function nameColumn({ columns }: Table): Column | undefined {
  const texts = columns.filter((c) => c.type.kind === "text" && !c.derived);
  for (const called of NAMES) {
    const found = texts.find((c) => called.test(c.label));
    if (found) return found;
  }
  return undefined;
}
