import { z } from "zod";
import type { ChartSpec } from "@/core/chart/spec";
import { filterValuesSchema } from "@/core/dashboard/spec";
import { withDraft } from "@/core/derive/derive";
import { type DerivedField, derivedFieldSchema } from "@/core/derive/spec";
import { cellPickSchema } from "@/core/pivot/pick";
import { planPivot } from "@/core/pivot/plan";
import { planCellRows } from "@/core/pivot/rows";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { writtenOut } from "@/core/posting/coerce";
import { proofColumn } from "@/core/proof/followed";
import { type Proof, type ProofPick, readFooting } from "@/core/proof/proof";
import { planProofRows } from "@/core/proof/proofRows";
import { sqlite } from "@/core/query/dialect/sqlite";
import { compileFooting } from "@/core/query/footing";
import { overRows, resolveOver } from "@/core/query/over";
import type { Plan } from "@/core/query/plan";
import { type ParameterValues, parameterValuesSchema, type QuerySpec, querySpecSchema } from "@/core/query/spec";
import type { Statement } from "@/core/query/statement";
import { levelsOf } from "@/core/query/subtotals";
import { planGroupRows } from "@/core/report/rowsBehind";
import { reportSpecSchema } from "@/core/report/spec";
import { ProblemError } from "@/core/types/problem";
import { type Cell, isMisfit } from "@/core/types/valueType";
import { Refusal } from "@/server/common/refusal";
import { dashboardOf, pivotOfTile, rowsOfTile } from "@/server/services/dashboards/tileRows";
import { needBuilder } from "@/server/services/people/described";
import type { Workspace } from "@/server/services/workspace/workspace";
import { resolveOnce } from "./resolveOnce";

export const pickSchema: z.ZodType<ProofPick> = z.union([
  z.object({ part: z.enum(["source", "kept", "sheet"]) }),
  z.object({ part: z.enum(["leftOut", "leftOutGroups"]), id: z.string() }),
  z.object({ part: z.enum(["found", "missing", "added", "unmatched", "repeated"]), id: z.string() }),
  z.object({ part: z.literal("group"), keys: z.array(z.union([z.string(), z.number(), z.null()])).max(100), column: z.string().optional() }),
]);

/** The rows behind one cell of a pivot over the query. */
const cellSchema = cellPickSchema.extend({ pivot: pivotSpecSchema });

/** The rows behind a figure of a report over the query: of the group that these keys make. */
const groupSchema = z.object({ report: reportSpecSchema, keys: z.array(z.union([z.string(), z.number(), z.null()])).max(20) });

/** A derived field not saved yet, so that its values can be looked at. */
const draftSchema = derivedFieldSchema.extend({ id: z.string(), label: z.string() });

/** What every question about a query carries: its description, the parameters' values, and which rows of its proof, if any. */
export const questionSchema = z.object({
  spec: querySpecSchema,
  values: parameterValuesSchema,
  pick: pickSchema.optional(),
  cell: cellSchema.optional(),
  group: groupSchema.optional(),
  draft: draftSchema.optional(),
  /** The tile of a saved dashboard that the rows are behind: the question of those who only look. */
  tile: z.object({ object: z.string(), id: z.string(), values: filterValuesSchema }).optional(),
  /** Whether an earlier moment will do where the owner chose so: it is told with the answer then. */
  asOf: z.literal(true).optional(),
});
export type Question = z.infer<typeof questionSchema>;

export type Caller = { client: string; signal?: AbortSignal | undefined };

export type Earlier = ChartSpec["earlier"];

/** Narrows a saved query before it is asked, as a dashboard's filters do; `earlier` where it is asked about an earlier time. */
export type Narrow = (query: QuerySpec, earlier: Earlier) => QuerySpec;
export const asItIs: Narrow = (query) => query;

/** Resolves a description on the database as it is now. @throws ProblemError with everything that stands in the way */
export async function planOf(ws: Workspace, spec: QuerySpec, values: ParameterValues, today = ws.today, draft?: DerivedField): Promise<Plan> {
  const schema = await ws.schema();
  const resolved = resolveOnce(spec, draft ? withDraft(schema, draft, today) : schema, { today, values, person: ws.knownAs });
  if (!resolved.ok) throw new ProblemError(resolved.problems);
  return resolved.value;
}

/**
 * The query that is asked about. Those who only look name a tile, and it is worked out here what its rows are; so is
 * the pivot of a cell, which must be the tile's own.
 */
function askedQuery(ws: Workspace, { spec, tile, cell, pick, draft, group }: Question): QuerySpec {
  // What is worked out beside a tile is not the tile's: fields that are not saved, rows that the query leaves out.
  if (!tile || pick || draft || group) needBuilder(ws);
  if (!tile) return spec;
  const dashboard = dashboardOf(ws, { object: tile.object });
  if (cell && JSON.stringify(cell.pivot) !== JSON.stringify(pivotOfTile(ws, dashboard, tile.id)))
    throw new Refusal(403, "That cell is not part of what is shared with you.");
  return rowsOfTile(ws, dashboard, tile.id, tile.values);
}

async function groupRows(ws: Workspace, query: QuerySpec, { report, keys }: z.infer<typeof groupSchema>, values: ParameterValues): Promise<Plan> {
  const context = { today: ws.today, values: { ...report.parameters, ...values }, person: ws.knownAs };
  const made = planGroupRows(report, query, await ws.schema(), context, keys);
  if (!made.ok) throw new ProblemError(made.problems);
  return made.value;
}

/** The plan of what is asked: the query's rows, those behind a number of its proof, or those behind a cell of a pivot. */
export async function planFor(ws: Workspace, question: Question): Promise<Plan> {
  const { values, pick, cell, draft, group } = question;
  const spec = askedQuery(ws, question);
  if (group) return groupRows(ws, spec, group, values);
  const plan = await planOf(ws, spec, cell ? { ...cell.pivot.parameters, ...values } : values, ws.today, draft);
  if (cell) return cellRows(ws, plan, cell, values);
  if (!pick) return plan;
  const picked = planProofRows(plan, pick);
  if (!picked) throw new Refusal(404, "That line is no longer in the proof. Choose another.");
  return picked;
}

function cellRows(ws: Workspace, inner: Plan, cell: z.infer<typeof cellSchema>, values: ParameterValues): Plan {
  const pivot = planPivot(cell.pivot, inner, { today: ws.today, values, person: ws.knownAs });
  if (!pivot.ok) throw new ProblemError(pivot.problems);
  const rows = planCellRows(pivot.value, cell);
  if (!rows) throw new Refusal(404, "That cell is no longer in the pivot. Choose another.");
  return rows;
}

/** The large tables of which an earlier moment will do for a question. */
const asOfOf = (ws: Workspace, { asOf }: Question): string[] => (asOf ? ws.asOf : []);

/** A window of a query's rows, as JSON text of rows of cells; where an earlier moment will do, of SheetRows. */
export async function rowsOf(ws: Workspace, question: Question, window: { offset: number; rows: number }, caller: Caller): Promise<Buffer> {
  const plan = await planFor(ws, question);
  const statement: Statement = { of: "sheet", plan, window };
  const { json, asOf } = await ws.engine.run<"rows">({ kind: "rows", database: ws.database, statement, asOf: asOfOf(ws, question) }, caller);
  const rows = question.tile ? withoutHidden(json, plan) : json;
  return question.asOf ? Buffer.concat([Buffer.from(`{"asOf":${JSON.stringify(asOf)},"rows":`), rows, Buffer.from("}")]) : rows;
}

/** Rows of a sheet, and the moment (ISO 8601) that they are of where it is an earlier one. */
export type SheetRows = { asOf: string | null; rows: Cell[][] };

/** Rows with nothing in the columns that are kept for order and reports alone: those who only look do not get them. */
function withoutHidden(rows: Buffer, { columns }: Plan): Buffer {
  if (columns.every((c) => !c.hidden)) return rows;
  const shown = (JSON.parse(rows.toString()) as Cell[][]).map((row) => row.map((cell, i) => (columns[i]?.hidden ? null : cell)));
  return Buffer.from(JSON.stringify(shown));
}

/** A window of a plan's rows. */
export async function rowsOfPlan(ws: Workspace, plan: Plan, window: { offset: number; rows: number }, caller: Caller): Promise<Cell[][]> {
  const { json } = await ws.engine.run<"rows">({ kind: "rows", database: ws.database, statement: { of: "rows", plan, window } }, caller);
  return JSON.parse(json.toString()) as Cell[][];
}

export const MOST_CHOICES = 500;

/** The values that occur in a column of a query, as they are typed, in order: what a form or a filter offers. */
export async function valuesIn(ws: Workspace, query: QuerySpec, column: string, caller: Caller, values: ParameterValues = {}): Promise<string[]> {
  const value = { kind: "field" as const, join: "", column };
  const spec: QuerySpec = {
    ...overRows(),
    grouped: true,
    columns: [{ id: "value", value }],
    conditions: [{ id: "known", left: value, operator: "notEmpty", values: [] }],
    order: [{ column: "value", direction: "up" }],
  };
  const over = resolveOver(spec, await planOf(ws, query, values), { today: ws.today, values: {}, person: ws.knownAs });
  if (!over.ok) throw new ProblemError(over.problems);
  const type = over.value.columns[0]?.type ?? { kind: "text" as const };
  const rows = await rowsOfPlan(ws, over.value, { offset: 0, rows: MOST_CHOICES }, caller);
  return rows.flatMap(([cell = null]) => (cell === null || isMisfit(cell) ? [] : [writtenOut(cell, type)]));
}

/** The footing of a sheet; `lines` counts its subtotals too; `asOf` is the moment (ISO 8601) that it is of where it is an earlier one. */
export type FootingAnswer = ReturnType<typeof readFooting> & { lines?: number; asOf?: string | null };

/** The footing over all rows of a query. */
export async function footingOf(ws: Workspace, question: Question, caller: Caller): Promise<FootingAnswer> {
  return footingOfPlan(ws, await planFor(ws, question), caller, asOfOf(ws, question));
}

export async function footingOfPlan(ws: Workspace, plan: Plan, caller: Caller, chosen: string[] = []): Promise<FootingAnswer> {
  const sql = compileFooting(plan, sqlite);
  const counted: Statement[] = levelsOf(plan).length > 0 ? [{ of: "lineCount", plan }] : [];
  const statements: Statement[] = [{ of: "footing", plan }, ...counted];
  const { rows, asOf } = await ws.engine.run<"singles">({ kind: "singles", database: ws.database, statements, asOf: chosen }, caller);
  const [row = [], lines] = rows;
  return { ...readFooting(plan, sql, row), ...(lines ? { lines: Number(lines[0] ?? 0) } : {}), asOf };
}

/** The account of how a query's rows and its followed figure came about. */
export async function proofOf(ws: Workspace, question: Question, caller: Caller): Promise<Proof> {
  const { values, draft } = question;
  const spec = askedQuery(ws, question);
  const plan = await planOf(ws, spec, values, ws.today, draft);
  const figure = proofColumn(plan, spec.proofColumn)?.id ?? null;
  return ws.engine.run<"proof">({ kind: "proof", database: ws.database, plan, figure, asOf: asOfOf(ws, question) }, caller);
}
