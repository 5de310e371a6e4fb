import { z } from "zod";
import type { ChartAnswer } from "@/core/chart/data";
import { chartSpecSchema } from "@/core/chart/spec";
import { filteredQuery, metField, valueFor } from "@/core/dashboard/filters";
import {
  type DashboardFilter,
  type DashboardSpec,
  dashboardSpecSchema,
  type FilterValues,
  filterValuesSchema,
  type Meeting,
  type PlainTile,
} from "@/core/dashboard/spec";
import { plainTiles, sourceOfTile } from "@/core/dashboard/tiles";
import { call, literal } from "@/core/expression/expr";
import type { Pivot, ShownFigure } from "@/core/pivot/pivot";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { compareCells } from "@/core/pivot/tree";
import { dropUnusedJoins } from "@/core/query/edit";
import { rowsWhere } from "@/core/query/over";
import type { Plan, PlanColumn } from "@/core/query/plan";
import { tableOfPlan } from "@/core/query/planTable";
import type { Today } from "@/core/types/calendar";
import { typedNumber } from "@/core/types/decimal";
import { ProblemError } from "@/core/types/problem";
import { text, yesno } from "@/core/types/valueType";
import { Refusal } from "@/server/common/refusal";
import type { TileAnswer, TileContent } from "@/server/jobs/dashboards/tileAnswer";
import { chartJob } from "@/server/services/charts/service";
import { described } from "@/server/services/people/described";
import { pivotJob, pivotPlanOf } from "@/server/services/pivots/service";
import { shownColumns } from "@/server/services/queries/rowNames";
import { savedQuery } from "@/server/services/queries/saved";
import { footingOfPlan, MOST_CHOICES, type Narrow, planOf, rowsOfPlan, valuesIn } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { dashboardOf, pivotOfFigure, queryOfTile, savedSpec } from "./tileRows";

/** What a tile asks: the dashboard (as it is being arranged, or as saved), the viewer's values, and a table's search. */
export const tileQuestionSchema = z.object({
  ...described(dashboardSpecSchema),
  tile: z.string().max(60),
  values: filterValuesSchema,
  search: z.string().max(200).optional(),
});
export type TileQuestion = Omit<z.infer<typeof tileQuestionSchema>, "spec" | "object"> & { spec: DashboardSpec };

type Caller = { client: string; signal?: AbortSignal | undefined };

/**
 * Works out one tile for a viewer; those who ask the same at once wait for one answer.
 * @throws ProblemError where what it is made from is gone or broken
 */
export async function tileOf(ws: Workspace, { spec, tile: id, values, search }: TileQuestion, today: Today, caller: Caller): Promise<TileAnswer> {
  const tile = plainTiles(spec).find((t) => t.id === id);
  if (!tile) throw new Refusal(404, "This tile is no longer on the dashboard.");
  const filters = spec.filters.filter((f) => f.meets[id]);
  const asked = filters.map((f) => valueFor(f, values));
  const person = asked.some((v) => v?.kind === "person") ? ws.knownAs : "";
  const key = JSON.stringify([await ws.state(), tile, filters, asked, today, person, search]);
  const answer = await ws.shared.run(key, caller.signal, (signal) => workOut(ws, { spec, tile: id, values, search }, tile, today, { ...caller, signal }));
  return { ...answer, tile: id };
}

function workOut(ws: Workspace, { spec, values, search }: TileQuestion, tile: PlainTile, today: Today, caller: Caller): Promise<TileContent> {
  const narrow: Narrow = (query, earlier) => filteredQuery(spec, tile.id, query, values, today, earlier);
  switch (tile.kind) {
    case "figure":
      return figureTile(ws, tile, narrow, caller);
    case "chart":
      return chartTile(ws, tile, narrow, caller);
    case "pivot":
      return pivotTile(ws, tile, narrow, caller);
    case "table":
      return tableTile(ws, tile, narrow, search?.trim() ?? "", caller);
    case "text":
    case "picture":
      throw new Refusal(400, "This tile has no query.");
    default:
      return tile satisfies never;
  }
}

type Of<K extends PlainTile["kind"]> = Extract<PlainTile, { kind: K }>;

const readPivot = async (ws: Workspace, planned: Awaited<ReturnType<typeof pivotPlanOf>>, caller: Caller): Promise<Pivot> =>
  JSON.parse(
    (await ws.engine.run<"pivot">({ kind: "pivot", database: ws.database, pivot: pivotJob(ws, planned.plan), asOf: ws.asOf }, caller)).toString(),
  ) as Pivot;

async function figureTile(ws: Workspace, tile: Of<"figure">, narrow: Narrow, caller: Caller): Promise<TileContent> {
  const pivot = pivotOfFigure(tile);
  const planned = await pivotPlanOf(ws, pivot, {}, ws.today, narrow);
  const by = tile.compare?.kind === "earlier" ? tile.compare.by : null;
  const [now, before] = await Promise.all([
    readPivot(ws, planned, caller),
    by ? pivotPlanOf(ws, pivot, {}, ws.today, narrow, by).then((earlier) => readPivot(ws, earlier, caller)) : null,
  ]);
  const figure = now.figures[0] as ShownFigure;
  return {
    kind: "figure",
    figure,
    now: now.cells[0]?.[0] ?? null,
    before: before?.cells[0]?.[0] ?? null,
    target: tile.compare?.kind === "target" ? typedNumber(tile.compare.value) : null,
    rows: now.proof.rows.query,
    query: planned.query,
    pivot,
    // Of two of them what is said is what holds of both.
    asOf: now.asOf ?? before?.asOf ?? null,
  };
}

async function chartTile(ws: Workspace, tile: Of<"chart">, narrow: Narrow, caller: Caller): Promise<TileContent> {
  const { name, spec } = savedSpec(ws, tile.chart, "chart", chartSpecSchema);
  const chart = await chartJob(ws, { spec, values: {} }, caller, ws.today, narrow);
  const answer = await ws.engine.run<"chart">({ kind: "chart", database: ws.database, chart, asOf: ws.asOf }, caller);
  return { kind: "chart", spec, answer: JSON.parse(answer.toString()) as ChartAnswer, query: narrow(savedQuery(ws, spec.query).spec, null), name };
}

async function pivotTile(ws: Workspace, tile: Of<"pivot">, narrow: Narrow, caller: Caller): Promise<TileContent> {
  const { name, spec } = savedSpec(ws, tile.pivot, "pivot", pivotSpecSchema);
  const planned = await pivotPlanOf(ws, spec, {}, ws.today, narrow);
  return { kind: "pivot", spec, pivot: await readPivot(ws, planned, caller), query: planned.query, name };
}

async function tableTile(ws: Workspace, tile: Of<"table">, narrow: Narrow, search: string, caller: Caller): Promise<TileContent> {
  const query = narrow(savedQuery(ws, tile.query).spec, null);
  const inner = await planOf(ws, query, {});
  const shownIn = ({ columns }: Plan) =>
    tile.columns.length > 0 ? tile.columns.flatMap((id) => columns.find((c) => c.id === id) ?? []) : columns.filter((c) => !c.hidden);
  const plan = tile.search && search !== "" ? searched(inner, search, shownIn(inner)) : inner;
  const shown = shownIn(plan);
  const order =
    tile.order && plan.columns.some((c) => c.id === tile.order?.column)
      ? [tile.order, ...plan.order.filter((o) => o.column !== tile.order?.column)]
      : plan.order;
  const [rows, footing] = await Promise.all([
    rowsOfPlan(ws, { ...plan, order }, { offset: 0, rows: tile.first }, caller),
    footingOfPlan(ws, { ...plan, columns: plan.columns.map((c) => ({ ...c, totalled: false })) }, caller),
  ]);
  const places = shown.map((c) => plan.columns.indexOf(c));
  const cells = rows.map((row) => places.map((at) => row[at] ?? null));
  return {
    kind: "table",
    columns: await shownColumns(ws, shown, cells, caller),
    rows: cells,
    count: footing.rows,
    query,
  };
}

/** The rows of which some text that is shown contains the words: what is not shown cannot be guessed at either. */
function searched(inner: Plan, words: string, shown: PlanColumn[]): Plan {
  const texts = tableOfPlan(inner).columns.filter((c) => c.type.kind === "text" && shown.some((s) => s.id === c.name));
  const tests = texts.map((c) =>
    call("contains", [{ node: "field", alias: "rows", column: c.name, type: text, storage: "plain", guarded: false }, literal(words, text)], yesno),
  );
  const [first, ...rest] = tests;
  if (!first) return inner;
  const found = rowsWhere(inner, [{ id: "search", expr: rest.length > 0 ? call("or", tests, yesno) : first, label: "search" }]);
  if (!found.ok) throw new ProblemError(found.problems);
  return found.value;
}

/** A filter of a dashboard, as it is being arranged or as saved. */
export const choicesQuestionSchema = z.object({ ...described(dashboardSpecSchema), filter: z.string().max(60) });
export const choicesOf = (ws: Workspace, { filter, ...asked }: z.infer<typeof choicesQuestionSchema>, caller: Caller): Promise<string[]> =>
  choicesOfFilter(ws, dashboardOf(ws, asked), filter, caller);

/**
 * The values a filter offers: those that occur among the rows of the tiles it meets, and no others of the column. A tile
 * that is broken offers none.
 * @throws Refusal 404 for a filter that is not there, and what stands in the way where no tile can be asked
 */
export async function choicesOfFilter(ws: Workspace, spec: DashboardSpec, id: string, caller: Caller): Promise<string[]> {
  const filter = spec.filters.find((f) => f.id === id);
  if (!filter) throw new Refusal(404, "This dashboard has no such filter.");
  const met = plainTiles(spec).flatMap((tile) => {
    const meeting = filter.meets[tile.id];
    return meeting ? [{ tile, meeting }] : [];
  });
  const asked = new Map<string, Promise<string[]>>();
  for (const { tile, meeting } of met) {
    const key = JSON.stringify([sourceOfTile(tile), meeting]);
    if (!asked.has(key)) asked.set(key, valuesMet(ws, tile, filter, meeting, caller));
  }
  const lists = await Promise.allSettled(asked.values());
  const found = lists.flatMap((l) => (l.status === "fulfilled" ? [l.value] : []));
  const broken = lists.find((l) => l.status === "rejected");
  if (found.length === 0 && broken) throw broken.reason;
  // One list is in its column's order; several are put in that of the locale.
  return found.length === 1 ? (found[0] ?? []) : [...new Set(found.flat())].sort(compareCells(text, ws.locale.locale)).slice(0, MOST_CHOICES);
}

async function valuesMet(ws: Workspace, tile: PlainTile, filter: DashboardFilter, meeting: Meeting, caller: Caller): Promise<string[]> {
  const query = queryOfTile(ws, tile);
  if (!query) return [];
  const { spec, field } = metField(filter, meeting, savedQuery(ws, query).spec);
  const rows = dropUnusedJoins({ ...spec, grouped: false, columns: [{ id: "value", value: field }], order: [], limit: null });
  return valuesIn(ws, rows, "value", caller);
}

/** A viewer's own values on a dashboard. */
export const valuesOf = (ws: Workspace, viewer: string, dashboard: string): FilterValues =>
  filterValuesSchema.safeParse(ws.catalogue.viewerState(viewer, dashboard)).data ?? {};
