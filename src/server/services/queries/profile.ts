import { z } from "zod";
import type { Plan } from "@/core/query/plan";
import {
  COMPARED,
  type FrequentValue,
  MOST_FREQUENT,
  type Profile,
  planBands,
  planFigures,
  planFrequent,
  readBands,
  readFigures,
  readFrequent,
  spreadOf,
  valuesToCompare,
} from "@/core/query/profile";
import { operandSchema, parameterValuesSchema, querySpecSchema } from "@/core/query/spec";
import { type Checked, ProblemError } from "@/core/types/problem";
import type { ValueType } from "@/core/types/valueType";
import type { Workspace } from "@/server/services/workspace/workspace";
import { keysCalled } from "./rowNames";
import { type Caller, planFor, planOf, questionSchema, rowsOfPlan } from "./service";

/*
 * What stands in a column, and which values a condition can be given: asked of the data as it is.
 */

export const profileSchema = questionSchema.extend({ column: z.string().max(200) });

/** More bands than are shown at once: values that lie far from the rest. */
const MOST_BANDS = 40;

const checked = (plan: Checked<Plan>): Plan => {
  if (!plan.ok) throw new ProblemError(plan.problems);
  return plan.value;
};

/** The profile of a column of a query. */
export async function profileOf(ws: Workspace, { column, ...question }: z.infer<typeof profileSchema>, caller: Caller): Promise<Profile> {
  const plan = await planFor(ws, question);
  const context = { today: ws.today, values: {}, person: ws.knownAs };
  const read = (asked: Checked<Plan>, rows: number) => rowsOfPlan(ws, checked(asked), { offset: 0, rows }, caller);
  const [figures, frequent] = await Promise.all([
    read(planFigures(plan, column, context), 1).then(([row = []]) => readFigures(row)),
    read(planFrequent(plan, column, context), MOST_FREQUENT).then(readFrequent),
  ]);
  const type = plan.columns.find((c) => c.id === column)?.type as ValueType;
  const spread = spreadOf(type, figures);
  if (!spread) return { ...figures, frequent, bands: [], bandFormat: {} };
  const byBand = checked(planBands(plan, column, spread, context));
  const rows = await rowsOfPlan(ws, byBand, { offset: 0, rows: MOST_BANDS }, caller);
  return { ...figures, frequent, bands: readBands(rows, type, spread), bandFormat: byBand.columns[0]?.format ?? {} };
}

export const frequentSchema = z.object({
  spec: querySpecSchema,
  values: parameterValuesSchema,
  left: operandSchema,
  condition: z.string().max(60),
  sought: z.string().max(200),
});

/** How many values are offered to a condition. */
const MOST_OFFERED = 50;

/** Values with their rows; those that are keys of rows with names say of which table. */
export type FrequentAnswer = { type: ValueType; rowOf?: string | undefined; frequent: FrequentValue[] };

/** The values that a condition of a query can be given, the most frequent first, each with its rows. */
export async function frequentOf(ws: Workspace, asked: z.infer<typeof frequentSchema>, caller: Caller): Promise<FrequentAnswer> {
  const plan = await planOf(ws, valuesToCompare(asked.spec, asked.left, asked.condition), asked.values);
  const [compared] = plan.columns;
  const { rowOf, type = { kind: "text" as const } } = compared ?? {};
  const sought = rowOf !== undefined && asked.sought !== "" ? await keysCalled(ws, rowOf, asked.sought, caller) : asked.sought;
  if (typeof sought !== "string" && sought.length === 0) return { type, rowOf, frequent: [] };
  const frequent = checked(planFrequent(plan, COMPARED, { today: ws.today, values: {}, person: ws.knownAs }, sought));
  const rows = await rowsOfPlan(ws, frequent, { offset: 0, rows: MOST_OFFERED }, caller);
  return { type, rowOf, frequent: readFrequent(rows) };
}
