import { z } from "zod";
import { type DashboardSpec, dashboardSpecSchema, filterValuesSchema } from "@/core/dashboard/spec";
import { plainTiles } from "@/core/dashboard/tiles";
import { panelQuery, type RowCells, rowQuery } from "@/core/folio/panel";
import { type Asked, askedSchema } from "@/core/page/asked";
import { operatorsOffered, planSearch, type SearchPlan } from "@/core/page/search";
import type { PageSpec, SearchField, SearchSpec } from "@/core/page/spec";
import { writtenOut } from "@/core/posting/coerce";
import { emptyQuery } from "@/core/query/empty";
import { OPERATORS } from "@/core/query/operators";
import type { ShownColumn } from "@/core/query/shownColumn";
import type { QuerySpec } from "@/core/query/spec";
import { reportSpecSchema } from "@/core/report/spec";
import { findColumn, findTable, type Schema, type Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { ProblemError } from "@/core/types/problem";
import { type Cell, isMisfit, type ValueType } from "@/core/types/valueType";
import { Refusal } from "@/server/common/refusal";
import type { TileAnswer } from "@/server/jobs/dashboards/tileAnswer";
import { chosenColours } from "@/server/services/charts/service";
import { choicesOfFilter, tileOf } from "@/server/services/dashboards/service";
import { alone } from "@/server/services/dashboards/tileRows";
import { shownColumns } from "@/server/services/queries/rowNames";
import { savedQuery } from "@/server/services/queries/saved";
import { footingOfPlan, planOf, rowsOfPlan, valuesIn } from "@/server/services/queries/service";
import { reportJob } from "@/server/services/reports/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { signed } from "./published";

/* What a page answers its visitors. Each answer is made of what was chosen for the page; names of anything else stay here. */

export const pageQuestionSchema = z.discriminatedUnion("ask", [
  z.object({ ask: z.literal("about") }),
  z.object({ ask: z.literal("search"), asked: askedSchema, page: z.number().int().min(0).max(1_000_000) }),
  z.object({ ask: z.literal("details"), asked: askedSchema, at: z.number().int().min(0).max(100_000_000), mark: z.string().max(100).optional() }),
  z.object({ ask: z.literal("choices"), field: z.string().max(60) }),
  z.object({ ask: z.literal("tile"), tile: z.string().max(60), values: filterValuesSchema, search: z.string().max(200).optional() }),
  z.object({ ask: z.literal("pages"), at: z.number().int().min(0) }),
]);
export type PageQuestion = z.infer<typeof pageQuestionSchema>;

type Caller = { client: string; signal?: AbortSignal | undefined };

export type FormField = {
  label: string;
  type: ValueType;
  input: "typed" | "choice" | "several" | "range";
  operators: { name: string; words: string }[];
  value: string;
  /** Whether it is a period of days. */
  period?: boolean;
};

/** What a page is before anything is asked of it. */
export type About = { title: string; intro: string; today: Today; locale: Workspace["locale"] } & (
  | { kind: "search"; form: FormField[]; perPage: number; sortable: boolean; atOnce: boolean; details: boolean }
  | { kind: "report" }
  | { kind: "dashboard"; spec: DashboardSpec; schema: Schema; colours: Record<string, number> }
);
/** Rows found, each with its mark where it can be opened: by it a row is known again without its key being told. */
export type Found = { columns: ShownColumn[]; rows: Cell[][]; marks: string[]; count: number; page: number };
export type DetailsPanel = { title: string; columns: ShownColumn[]; rows: Cell[][]; count: number };
export type Details = { mark: string; columns: ShownColumn[]; cells: Cell[]; panels: DetailsPanel[] };

export async function answerPage(ws: Workspace, page: PageSpec, question: PageQuestion, caller: Caller): Promise<unknown> {
  switch (question.ask) {
    case "about":
      return aboutPage(ws, page);
    case "search":
      return searchRows(ws, searchIn(page), question.asked, question.page, caller);
    case "details":
      return detailsOf(ws, searchIn(page), question, caller);
    case "choices":
      return choicesFor(ws, page, question.field, caller);
    case "tile": {
      const spec = dashboardIn(ws, page);
      return withoutNames(
        await tileOf(ws, { spec, tile: question.tile, values: knownValues(spec, question.values), search: question.search }, ws.today, caller),
      );
    }
    case "pages":
      return pagesOf(ws, page, question.at, caller);
    default:
      return question satisfies never;
  }
}

const notHere = () => new Refusal(404, "This page does not offer that.");

function searchIn({ subject }: PageSpec): SearchSpec {
  if (subject.kind !== "search") throw notHere();
  return subject;
}

/** The page's dashboard; a pivot or a chart is one by itself. */
function dashboardIn(ws: Workspace, { subject, title }: PageSpec): DashboardSpec {
  if (subject.kind === "pivot" || subject.kind === "chart") return alone(subject.kind, subject.id, title);
  const saved = subject.kind === "dashboard" ? ws.objects.get(subject.id) : undefined;
  if (saved?.kind !== "dashboard") throw notHere();
  return dashboardSpecSchema.parse(saved.spec);
}

/** Values of filters that the dashboard has; nothing else that was sent. */
const knownValues = (spec: DashboardSpec, values: z.infer<typeof filterValuesSchema>) =>
  Object.fromEntries(Object.entries(values).filter(([id]) => spec.filters.some((f) => f.id === id)));

async function aboutPage(ws: Workspace, page: PageSpec): Promise<About> {
  const common = { title: page.title, intro: page.intro, today: ws.today, locale: ws.locale };
  if (page.subject.kind === "search") return { ...common, ...(await formOf(ws, page.subject)) };
  if (page.subject.kind === "report") return { ...common, kind: "report" };
  const spec = dashboardIn(ws, page);
  const tiles = new Set(plainTiles(spec).map((t) => t.id));
  const filters = spec.filters.map((f) => ({
    ...f,
    meets: Object.fromEntries(Object.entries(f.meets).flatMap(([id, met]) => (met && tiles.has(id) ? [[id, { steps: [] }]] : []))),
  }));
  return { ...common, kind: "dashboard", spec: { ...spec, filters }, schema: filterSchema(await ws.schema(), spec), colours: chosenColours(ws) };
}

/** As much of the schema as the filters' own columns: what their editors need to know. */
function filterSchema(schema: Schema, spec: DashboardSpec): Schema {
  const tables = schema.tables.flatMap((t) => {
    const columns = t.columns.filter((c) => spec.filters.some((f) => f.table === t.name && f.column === c.name)).map(({ derived: _, note: __, ...c }) => c);
    return columns.length > 0 ? [{ name: t.name, label: t.label, columns, key: [], rows: 0 }] : [];
  });
  return { tables, links: [] };
}

/** A tile's answer without the query, the conditions and the columns it was made with. */
function withoutNames(answer: TileAnswer): TileAnswer {
  const query = emptyQuery("");
  const bare = { conditions: [], parameters: {}, asked: [] };
  if (answer.kind === "figure") return { ...answer, query, pivot: { ...answer.pivot, ...bare, query: "" } };
  if (answer.kind === "chart") return { ...answer, query, spec: { ...answer.spec, query: "", pivot: { ...answer.spec.pivot, ...bare, query: "" } } };
  if (answer.kind === "pivot") return { ...answer, query, spec: { ...answer.spec, ...bare, query: "" } };
  return { ...answer, query };
}

const NOTHING: Asked = { fields: [], sort: null };

async function planned(ws: Workspace, search: SearchSpec, asked: Asked): Promise<SearchPlan> {
  const made = planSearch(search, savedQuery(ws, search.query).spec, await ws.schema(), { today: ws.today, person: ws.knownAs }, asked);
  if (!made.ok) throw new ProblemError(made.problems);
  return made.value;
}

async function formOf(ws: Workspace, search: SearchSpec): Promise<Omit<Extract<About, { kind: "search" }>, "title" | "intro" | "today" | "locale">> {
  const query = savedQuery(ws, search.query).spec;
  // A search that cannot be made is said before anything is asked.
  await planned(ws, search, NOTHING);
  const inner = await planOf(ws, query, {});
  const form = search.fields.flatMap((field): FormField[] => {
    if (field.kind === "parameter") {
      const parameter = inner.parameters.find((p) => p.name === field.name);
      const choices = query.parameters.find((p) => p.name === field.name)?.choices;
      return parameter
        ? [
            {
              label: field.label,
              type: parameter.type,
              input: choices ? "choice" : "typed",
              operators: [],
              value: parameter.text ?? "",
              period: parameter.period ?? false,
            },
          ]
        : [];
    }
    const column = inner.columns.find((c) => c.id === field.column);
    if (!column) return [];
    const operators = field.input === "typed" ? operatorsOffered(field, column.type).map((name) => ({ name, words: OPERATORS[name].words(column.type) })) : [];
    return [{ label: field.label, type: column.type, input: field.input, operators, value: "" }];
  });
  const { perPage, sortable, atOnce, details } = search;
  return { kind: "search", form, perPage, sortable, atOnce, details: details !== null };
}

async function searchRows(ws: Workspace, search: SearchSpec, asked: Asked, page: number, caller: Caller): Promise<Found> {
  const { plan, columns, key, asked: anything } = await planned(ws, search, asked);
  if (!search.atOnce && !anything) return { columns: [], rows: [], marks: [], count: 0, page: 0 };
  const table = key.length > 0 ? await tableOf(ws, search) : undefined;
  const [rows, footing] = await Promise.all([
    rowsOfPlan(ws, plan, { offset: page * search.perPage, rows: search.perPage }, caller),
    footingOfPlan(ws, plan, caller),
  ]);
  const marks = table ? rows.map((row) => markOf(ws, keyIn(table, key, row))) : [];
  const cells = rows.map((row) => row.slice(0, columns.length));
  return { columns: await shownColumns(ws, columns, cells, caller), rows: cells, marks, count: footing.rows, page };
}

const tableOf = async (ws: Workspace, search: SearchSpec): Promise<Table | undefined> => findTable(await ws.schema(), savedQuery(ws, search.query).spec.source);

/** A row's key as it is typed. @param places of its parts among the row's cells */
const keyIn = (table: Table, places: number[], row: Cell[]): string[] =>
  places.map((place, i) => {
    const cell = row[place] ?? null;
    return cell === null || isMisfit(cell) ? "" : writtenOut(cell, findColumn(table, table.key[i] ?? "")?.type ?? { kind: "text" });
  });

/** What a row is known by to those who may not know its key. */
const markOf = (ws: Workspace, key: string[]): string => signed(ws, JSON.stringify(["row", key]));

/** A row among those found: its place, and the mark it had when it was found there. */
export type FoundRow = { asked: Asked; at: number; mark?: string | undefined };

/**
 * The key of a row as it is typed, by its place among what the same search finds: a row that is not found has none.
 * @throws Refusal 404 where nothing stands there any more, 409 where another row does
 */
export async function keyOfFound(ws: Workspace, table: Table, search: SearchSpec, { asked, at, mark }: FoundRow, caller: Caller): Promise<string[]> {
  const { plan, key, asked: anything } = await planned(ws, search, asked);
  // What shows nothing until it is asked has found no row either.
  if (!search.atOnce && !anything) throw new Refusal(404, "Search first.");
  const [row] = key.length > 0 ? await rowsOfPlan(ws, plan, { offset: at, rows: 1 }, caller) : [];
  if (!row) throw new Refusal(404, "This row is no longer among the results. Search again.");
  const found = keyIn(table, key, row);
  if (mark !== undefined && mark !== markOf(ws, found)) throw new Refusal(409, "The results have changed. Search again.");
  return found;
}

async function detailsOf(ws: Workspace, search: SearchSpec, row: FoundRow, caller: Caller): Promise<Details> {
  const { details } = search;
  const schema = await ws.schema();
  const table = await tableOf(ws, search);
  if (!details || !table) throw notHere();
  const key = await keyOfFound(ws, table, search, row, caller);
  const plan = await planOf(ws, rowQuery(table, key), {});
  const [own] = await rowsOfPlan(ws, plan, { offset: 0, rows: 1 }, caller);
  if (!own) throw new Refusal(404, "This row does not exist any more.");
  const cells: RowCells = Object.fromEntries(plan.columns.map((c, i) => [c.id, own[i] ?? null]));
  const columns = details.columns.flatMap((name) => plan.columns.find((c) => c.id === name) ?? []);
  const panels = await Promise.all(
    details.panels.map(async (panel): Promise<DetailsPanel | null> => {
      const bound = panelQuery(panel, table, cells, schema);
      if (!bound.ok) throw new ProblemError(bound.problems);
      const of = await planOf(ws, bound.value, {});
      const visible = of.columns.filter((c) => !c.hidden);
      const [rows, footing] = await Promise.all([rowsOfPlan(ws, of, { offset: 0, rows: panel.first }, caller), footingOfPlan(ws, of, caller)]);
      if (panel.hideEmpty && footing.rows === 0) return null;
      const shown = rows.map((r) => visible.map((c) => r[of.columns.indexOf(c)] ?? null));
      return {
        title: panel.title,
        columns: await shownColumns(ws, visible, shown, caller),
        rows: shown,
        count: footing.rows,
      };
    }),
  );
  const shown = columns.map((c) => cells[c.id] ?? null);
  return { mark: markOf(ws, key), columns: await shownColumns(ws, columns, [shown], caller), cells: shown, panels: panels.flatMap((p) => p ?? []) };
}

/** The values a form's field, or a dashboard's filter, offers: those that occur among the page's rows. */
async function choicesFor(ws: Workspace, page: PageSpec, which: string, caller: Caller): Promise<string[]> {
  if (page.subject.kind !== "search") {
    const spec = dashboardIn(ws, page);
    if (!spec.filters.some((f) => f.id === which)) throw notHere();
    return choicesOfFilter(ws, spec, which, caller);
  }
  const field = page.subject.fields[Number(which)];
  if (!field) throw notHere();
  return choicesOfField(ws, savedQuery(ws, page.subject.query).spec, field, caller);
}

async function choicesOfField(ws: Workspace, query: QuerySpec, field: SearchField, caller: Caller): Promise<string[]> {
  if (field.kind === "parameter") return query.parameters.find((p) => p.name === field.name)?.choices ?? [];
  if (field.input !== "choice" && field.input !== "several") throw notHere();
  return valuesIn(ws, query, field.column, caller);
}

async function pagesOf(ws: Workspace, { subject }: PageSpec, at: number, caller: Caller) {
  const saved = subject.kind === "report" ? ws.objects.get(subject.id) : undefined;
  if (saved?.kind !== "report") throw notHere();
  const report = await reportJob(ws, reportSpecSchema.parse(saved.spec));
  const { pages, outline } = await ws.engine.run<"reportPages">({ kind: "reportPages", database: ws.database, report, from: at + 1, to: at + 1 }, caller);
  return { pages, count: outline.pages };
}
