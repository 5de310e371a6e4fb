import { z } from "zod";
import { briefText } from "@/core/brief/brief";
import { ownConditions } from "@/core/brief/pivotBrief";
import { drawnNumber } from "@/core/chart/data";
import { type ChartPlan, planChart, valuesEarlier } from "@/core/chart/plan";
import { type ChartSpec, chartSpecSchema } from "@/core/chart/spec";
import { niceWidth } from "@/core/chart/statistics";
import { withAxisNames } from "@/core/pivot/plan";
import { overRows, resolveOver } from "@/core/query/over";
import type { Plan } from "@/core/query/plan";
import { type ParameterValues, parameterValuesSchema } from "@/core/query/spec";
import { ProblemError } from "@/core/types/problem";
import { isExact, scaleOf } from "@/core/types/valueType";
import type { ChartFile, ChartJob, FileResult } from "@/server/jobs/work";
import { printedBrief } from "@/server/services/queries/printedBrief";
import { savedQuery } from "@/server/services/queries/saved";
import { asItIs, type Narrow, planOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";

export const chartQuestionSchema = z.object({ spec: chartSpecSchema, values: parameterValuesSchema });
export type ChartQuestion = z.infer<typeof chartQuestionSchema>;

type Caller = { client: string; signal?: AbortSignal | undefined; timeLimitMs?: number };

/** Bands a histogram has, about, where its width is left to the data. */
const BANDS = 20;

/** A chart made ready for the engine: its plan, and that of the same about an earlier time. */
export async function chartJob(ws: Workspace, { spec, values }: ChartQuestion, caller: Caller, today = ws.today, narrow: Narrow = asItIs): Promise<ChartJob> {
  const saved = savedQuery(ws, spec.query).spec;
  const bound = { ...spec.pivot.parameters, ...values };
  const inner = await planOf(ws, narrow(saved, null), bound, today);
  const band = await bandOver(ws, spec, inner, bound, caller);
  const planned = async (plan: Plan, given: ParameterValues): Promise<ChartPlan> => {
    const chart = planChart(spec, plan, { today, values: given, person: ws.knownAs }, band);
    if (!chart.ok) throw new ProblemError(chart.problems);
    return "pivot" in chart.value
      ? { ...chart.value, pivot: withAxisNames(chart.value.pivot, await ws.schema(), { today, values: {}, person: ws.knownAs }) }
      : chart.value;
  };
  const plan = await planned(inner, bound);
  const before = spec.earlier && { ...bound, ...valuesEarlier("pivot" in plan ? plan.pivot.plan : inner, spec.earlier) };
  const earlier = before && (await planned(await planOf(ws, narrow(saved, spec.earlier), before, today), before));
  return { spec, plan, earlier, locale: ws.locale };
}

const bandOver = async (ws: Workspace, spec: ChartSpec, inner: Plan, values: ParameterValues, caller: Caller): Promise<string> =>
  spec.kind === "histogram" && spec.band === "" ? bandWidth(ws, spec, inner, values, caller) : spec.band;

/** How wide a chart's bands are over all rows of its query. */
export async function bandOf(ws: Workspace, spec: ChartSpec, values: ParameterValues): Promise<string> {
  const bound = { ...spec.pivot.parameters, ...values };
  return bandOver(ws, spec, await planOf(ws, savedQuery(ws, spec.query).spec, bound), bound, { client: "report" });
}

/** A round width of bands for the values as they are; the unit itself where those lie close together. */
async function bandWidth(ws: Workspace, spec: ChartSpec, inner: Plan, values: ParameterValues, caller: Caller): Promise<string> {
  const value = spec.pivot.figures[0]?.value ?? null;
  if (!value) return "1";
  const ends = (["least", "greatest"] as const).map((figure) => ({ id: figure, value, figure }));
  const over = resolveOver({ ...overRows(), grouped: true, conditions: spec.pivot.conditions, parameters: spec.pivot.asked, columns: ends }, inner, {
    today: ws.today,
    values,
    person: ws.knownAs,
  });
  if (!over.ok) throw new ProblemError(over.problems);
  const type = over.value.columns[0]?.type ?? { kind: "floating" as const };
  const statements = [{ of: "rows" as const, plan: over.value }];
  const { rows } = await ws.engine.run<"singles">({ kind: "singles", database: ws.database, statements }, caller);
  const [row = []] = rows;
  const [factor, power] = niceWidth(drawnNumber(row[0] ?? null, type) ?? 0, drawnNumber(row[1] ?? null, type) ?? 0, BANDS);
  const least = -scaleOf(type);
  if (isExact(type) && power < least) return power < least ? `${10 ** least}` : "1";
  return power < 0 ? (factor * 10 ** power).toFixed(-power) : String(factor * 10 ** power);
}

/** What a chart is drawn from, as JSON text. */
export async function chartOf(ws: Workspace, question: ChartQuestion, caller: Caller): Promise<Buffer> {
  return ws.engine.run<"chart">({ kind: "chart", database: ws.database, chart: await chartJob(ws, question, caller), asOf: ws.asOf }, caller);
}

/** Writes a chart to a file: a picture, a page with picture and table, or its table. */
export async function writeChart(
  ws: Workspace,
  question: ChartQuestion,
  file: Pick<ChartFile, "format" | "path" | "title">,
  caller: Caller,
  today = ws.today,
  narrow: Narrow = asItIs,
): Promise<FileResult> {
  const chart = await chartJob(ws, question, caller, today, narrow);
  const query = narrow(savedQuery(ws, question.spec.query).spec, null);
  const inner = await planOf(ws, query, { ...question.spec.pivot.parameters, ...question.values }, today);
  const brief = `${await printedBrief(ws, query, inner)} ${briefText(ownConditions(question.spec.pivot, inner, ws.locale))}`.trim();
  const whole: ChartFile = { ...file, brief, printedAt: ws.printedAt(), chosen: chosenColours(ws) };
  return ws.engine.run<"chartFile">({ kind: "chartFile", database: ws.database, chart, file: whole }, { timeLimitMs: 1_800_000, ...caller });
}

const colourSchema = z.record(z.string(), z.number().int().min(0).max(99));

/** The colours chosen for values, kept for all charts. */
export const chosenColours = (ws: Workspace): Record<string, number> => colourSchema.safeParse(ws.catalogue.setting("colours")).data ?? {};

export function chooseColour(ws: Workspace, key: string, place: number | null): Record<string, number> {
  const { [key]: _, ...rest } = chosenColours(ws);
  const next = place === null ? rest : { ...rest, [key]: place };
  ws.catalogue.setSetting("colours", next);
  return next;
}
