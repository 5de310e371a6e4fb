import { z } from "zod";
import { writtenOut } from "@/core/posting/coerce";
import { emptyQuery } from "@/core/query/empty";
import { parameterValuesSchema, type QuerySpec } from "@/core/query/spec";
import { isMisfit, type ValueType } from "@/core/types/valueType";
import type { Workspace } from "@/server/services/workspace/workspace";
import { planOf, rowsOfPlan, valuesIn } from "./service";

/*
 * What a parameter offers that takes its choices from a column of a table or saved query.
 */

export const choicesSchema = z.object({
  table: z.string().max(200),
  column: z.string().max(200),
  /** The column that rows are sought and shown by; unset, the values are shown themselves. */
  shown: z.string().max(200).optional(),
  /** What is sought in it, or the value that was chosen. */
  sought: z.string().max(200).optional(),
  chosen: z.string().max(2000).optional(),
  values: parameterValuesSchema,
});
type Asked = z.infer<typeof choicesSchema>;
type Caller = { client: string; signal?: AbortSignal | undefined };

/** A row to choose: its value, and how it is shown. */
export type Choice = { value: string; words: string };

/** How many rows a search shows. */
const MOST_FOUND = 30;

/** The choices there are: of a saved query, by the values given for its own parameters. */
export async function choicesFrom(ws: Workspace, asked: Asked, caller: Caller): Promise<string[] | Choice[]> {
  const { table, column, shown, values } = asked;
  if (shown !== undefined) return rowsToChoose(ws, { ...asked, shown }, caller);
  const rows: QuerySpec = { ...emptyQuery(table), columns: [{ id: "value", value: { kind: "field", join: "", column } }] };
  return valuesIn(ws, rows, "value", caller, values);
}

/** Rows whose name holds what is sought, or the one that was chosen. */
async function rowsToChoose(
  ws: Workspace,
  { table, column, shown, sought = "", chosen, values }: Asked & { shown: string },
  caller: Caller,
): Promise<Choice[]> {
  const field = (name: string) => ({ kind: "field" as const, join: "", column: name });
  const typed = (text: string) => [{ kind: "value" as const, text }];
  const spec: QuerySpec = {
    ...emptyQuery(table),
    grouped: true,
    columns: [
      { id: "value", value: field(column) },
      { id: "words", value: field(shown) },
    ],
    conditions: [
      { id: "known", left: field(column), operator: "notEmpty", values: [] },
      ...(sought === "" ? [] : [{ id: "sought", left: field(shown), operator: "contains" as const, values: typed(sought) }]),
      ...(chosen === undefined ? [] : [{ id: "chosen", left: field(column), operator: "is" as const, values: typed(chosen) }]),
    ],
    order: [{ column: "words", direction: "up" }],
  };
  const plan = await planOf(ws, spec, values);
  const types = plan.columns.map((c): ValueType => c.type);
  const rows = await rowsOfPlan(ws, plan, { offset: 0, rows: MOST_FOUND }, caller);
  return rows.map((row) => {
    const [value = "", words = ""] = row.map((cell, i) => (cell === null || isMisfit(cell) ? "" : writtenOut(cell, types[i] as ValueType)));
    return { value, words: words === "" ? value : words };
  });
}
