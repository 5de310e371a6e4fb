import { z } from "zod";
import { briefText } from "@/core/brief/brief";
import { pivotBrief } from "@/core/brief/pivotBrief";
import { valuesEarlier } from "@/core/chart/plan";
import { FEW_GROUPS, firstPivot } from "@/core/pivot/edit";
import { emptyPivot } from "@/core/pivot/empty";
import type { PivotPlan } from "@/core/pivot/pivot";
import { planPivot, withAxisNames } from "@/core/pivot/plan";
import type { PivotRecount } from "@/core/pivot/seal";
import { type PivotSpec, pivotSpecSchema } from "@/core/pivot/spec";
import { overRows, resolveOver } from "@/core/query/over";
import type { Plan } from "@/core/query/plan";
import { tableOfPlan } from "@/core/query/planTable";
import { type ParameterValues, parameterValuesSchema, type QuerySpec } from "@/core/query/spec";
import { ProblemError } from "@/core/types/problem";
import { isNumber } from "@/core/types/valueType";
import type { FileResult, PivotFile, PivotJob } from "@/server/jobs/work";
import { printedBrief } from "@/server/services/queries/printedBrief";
import { savedQuery } from "@/server/services/queries/saved";
import { asItIs, type Earlier, type Narrow, planOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";

export const pivotQuestionSchema = z.object({ spec: pivotSpecSchema, values: parameterValuesSchema });
export type PivotQuestion = z.infer<typeof pivotQuestionSchema>;

/** `asOf`: the moment that the figures are of which are counted a second time, where it is an earlier one. */
export const recountQuestionSchema = pivotQuestionSchema.extend({ asOf: z.iso.datetime().nullish() });
type RecountQuestion = z.infer<typeof recountQuestionSchema>;

type Caller = { client: string; signal?: AbortSignal | undefined; timeLimitMs?: number };

/** A pivot and the query it is over, resolved on the database as it is now. */
export async function pivotPlanOf(
  ws: Workspace,
  spec: PivotSpec,
  values: ParameterValues,
  today = ws.today,
  narrow: Narrow = asItIs,
  earlier: Earlier = null,
): Promise<{ plan: PivotPlan; inner: Plan; query: QuerySpec }> {
  const query = narrow(savedQuery(ws, spec.query).spec, earlier);
  const given = { ...spec.parameters, ...values };
  const now = await planOf(ws, query, given, today);
  const bound = earlier ? { ...given, ...valuesEarlier(now, earlier) } : given;
  const inner = earlier ? await planOf(ws, query, bound, today) : now;
  const planned = planPivot(spec, inner, { today, values: bound, person: ws.knownAs });
  if (!planned.ok) throw new ProblemError(planned.problems);
  return { plan: withAxisNames(planned.value, await ws.schema(), { today, values: {}, person: ws.knownAs }), inner, query };
}

export const pivotJob = (ws: Workspace, plan: PivotPlan): PivotJob => ({ plan, locale: ws.locale });

/** A pivot worked out, as JSON text. */
export async function pivotOf(ws: Workspace, { spec, values }: PivotQuestion, caller: Caller): Promise<Buffer> {
  const { plan } = await pivotPlanOf(ws, spec, values);
  return ws.engine.run<"pivot">({ kind: "pivot", database: ws.database, pivot: pivotJob(ws, plan), asOf: ws.asOf }, caller);
}

/** A pivot's totals counted a second time, without its SQL. */
export async function pivotRecountOf(ws: Workspace, { spec, values, asOf }: RecountQuestion, caller: Caller): Promise<PivotRecount> {
  const { plan } = await pivotPlanOf(ws, spec, values);
  return ws.engine.run<"pivotRecount">({ kind: "pivotRecount", database: ws.database, pivot: pivotJob(ws, plan), asOf: asOf ?? null }, caller);
}

/** How many different values each text of a query has, by the column's id. */
async function differentTexts(ws: Workspace, inner: Plan, caller: Caller): Promise<Map<string, number>> {
  const texts = inner.columns.filter((c) => c.type.kind === "text");
  if (texts.length === 0) return new Map();
  const columns = texts.map((c) => ({ id: c.id, value: { kind: "field" as const, join: "", column: c.id }, figure: "countDifferent" as const }));
  const resolved = resolveOver({ ...overRows(), grouped: true, columns }, inner, { today: ws.today, values: {} });
  if (!resolved.ok) throw new ProblemError(resolved.problems);
  const statements = [{ of: "rows" as const, plan: resolved.value }];
  const { rows } = await ws.engine.run<"singles">({ kind: "singles", database: ws.database, statements }, caller);
  const [counts = []] = rows;
  return new Map(texts.map((c, i) => [c.id, Number(counts[i] ?? 0)]));
}

/** A pivot to begin with over a query's rows. */
export async function firstPivotOf(ws: Workspace, query: string, plan: Plan, caller: Caller): Promise<PivotSpec> {
  const totalled = new Set(plan.columns.filter((c) => c.totalled).map((c) => c.id));
  const different = await differentTexts(ws, plan, caller);
  const few = (name: string) => (different.get(name) ?? 0) > 1 && (different.get(name) ?? 0) <= FEW_GROUPS;
  return firstPivot(
    emptyPivot(query),
    tableOfPlan(plan),
    (c) => isNumber(c.type) && totalled.has(c.name),
    (c) => few(c.name),
  );
}

/** Writes a pivot to a file, its headings as they stand. */
export async function writePivot(
  ws: Workspace,
  { spec, values }: PivotQuestion,
  file: Pick<PivotFile, "format" | "path" | "title">,
  caller: Caller,
  today = ws.today,
  narrow: Narrow = asItIs,
): Promise<FileResult> {
  const { plan, inner, query } = await pivotPlanOf(ws, spec, values, today, narrow);
  const brief = `${await printedBrief(ws, query, inner)} ${briefText(pivotBrief(plan, spec, ws.locale))}`.trim();
  const whole: PivotFile = { ...file, spec, brief, printedAt: ws.printedAt() };
  return ws.engine.run<"pivotFile">(
    { kind: "pivotFile", database: ws.database, pivot: pivotJob(ws, plan), file: whole },
    { timeLimitMs: 1_800_000, ...caller },
  );
}
