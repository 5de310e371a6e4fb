import { z } from "zod";
import { numbered, planFind } from "@/core/query/findRows";
import { parameterValuesSchema, querySpecSchema } from "@/core/query/spec";
import { ProblemError } from "@/core/types/problem";
import { readTyped } from "@/core/types/typed";
import type { Workspace } from "@/server/services/workspace/workspace";
import { type Caller, planOf, rowsOfPlan } from "./service";

export const findSchema = z.object({
  spec: querySpecSchema,
  values: parameterValuesSchema,
  sought: z.string().trim().min(1).max(200),
  /** The number of the row to begin with, from 1. */
  from: z.number().int().min(1),
  backwards: z.boolean(),
});

/** The number of the next row that holds what is sought, from 1; null where none is left that way. And how many hold it in all. */
export type Found = { row: number | null; rows: number };

/** Finds the next row of a query's sheet that holds what a person typed, in any column shown. */
export async function findInRows(ws: Workspace, { spec, values, sought, from, backwards }: z.infer<typeof findSchema>, caller: Caller): Promise<Found> {
  const plan = await planOf(ws, numbered(spec), values);
  const typed = { text: sought, typed: (type: Parameters<typeof readTyped>[0]) => readTyped(type, sought, ws.locale, ws.today.day) };
  const plans = planFind(plan, typed, from, backwards, { today: ws.today, values: {}, person: ws.knownAs });
  if (plans === null) return { row: null, rows: 0 };
  if (!plans.ok) throw new ProblemError(plans.problems);
  const one = { offset: 0, rows: 1 };
  const [[first], [count]] = await Promise.all([rowsOfPlan(ws, plans.value.next, one, caller), rowsOfPlan(ws, plans.value.count, one, caller)]);
  return { row: first ? Number(first[0]) : null, rows: Number(count?.[0] ?? 0) };
}
