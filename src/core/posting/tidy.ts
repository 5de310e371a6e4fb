import { z } from "zod";
import { asText, quotedText } from "../expression/parse";
import type { Column, Table } from "../schema/schema";
import type { PostingSpec } from "./spec";

/** How texts of a column are tidied, all of them at once. */
export const tidySchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.enum(["trim", "upper", "lower", "title"]) }),
  /** An empty value is that of the row before it, in the order of the key. */
  z.object({ kind: z.literal("down") }),
  /** Every place where a text stands, or values that are the text as a whole. */
  z.object({ kind: z.literal("replace"), find: z.string().min(1, "Enter what to find.").max(500), instead: z.string().max(500), whole: z.boolean() }),
]);
export type Tidy = z.infer<typeof tidySchema>;

/**
 * The formula that tidies a column. What is no text is read as it is stored, values that do not fit too.
 * @example tidyFormula({ kind: "trim" }, name) // "TRIM(name)"
 */
export function tidyFormula(tidy: Exclude<Tidy, { kind: "down" }>, column: Pick<Column, "label" | "type">): string {
  const value = asText(column);
  switch (tidy.kind) {
    case "trim":
      return `TRIM(${value})`;
    case "upper":
      return `UPPER(${value})`;
    case "lower":
      return `LOWER(${value})`;
    case "title":
      return `INITCAP(${value})`;
    case "replace": {
      const [find, instead] = [quotedText(tidy.find), quotedText(tidy.instead)];
      if (!tidy.whole) return `REPLACE(${value}, ${find}, ${instead})`;
      return `CASE WHEN ${value} = ${find} THEN ${tidy.instead === "" ? "NULL" : instead} ELSE ${value} END`;
    }
    default:
      return tidy satisfies never;
  }
}

/** A draft posting that tidies a column of a table, its rows known by their key. */
export const tidyPosting = (tidy: Tidy, table: Table, column: Column): PostingSpec => ({
  version: 1,
  source: { kind: "table", table: table.name },
  action: "change",
  target: table.name,
  same: table.key,
  present: "leave",
  breaking: "refuse",
  pairs: [
    ...table.key.filter((k) => k !== column.name).map((k) => ({ column: k, value: { kind: "field" as const, name: k } })),
    tidy.kind === "down"
      ? { column: column.name, value: { kind: "field", name: column.name }, down: true }
      : { column: column.name, value: { kind: "formula", text: tidyFormula(tidy, column) } },
  ],
});
