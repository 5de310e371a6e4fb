import { PARENT } from "../derive/parent";
import { parseFormula } from "../expression/parse";
import { panelQuery, type RowCells } from "../folio/panel";
import type { Panel } from "../folio/spec";
import { comparisonsIn } from "../query/conditions";
import { fieldByNames, type RunContext } from "../query/operands";
import { overRows, resolveOver } from "../query/over";
import type { Plan } from "../query/plan";
import { tableOfPlan } from "../query/planTable";
import { resolveQuery } from "../query/resolve";
import type { QueryColumn, QuerySpec } from "../query/spec";
import { PAPERS } from "../report/choices";
import { comparisons, findTable, type Schema, type Table } from "../schema/schema";
import { type Checked, type Problem, problem } from "../types/problem";
import type { Cell } from "../types/valueType";
import { TEXTS } from "./choices";
import type { Block, LetterSpec, Related } from "./spec";
import { blocksOf, formulasOf, tablesOf, whensOf } from "./walk";

/*
 * A letter's plan is one query over the rows of its query: a column for each formula of its texts, each condition of
 * its passages and its file's name, and the columns of the row itself that its tables of related rows compare with.
 *
 *   letter, query ─▶ the query with the row's own columns ─▶ a query over it, a column a formula ─▶ one row a letter
 */

export type LetterPlan = {
  plan: Plan;
  /** Places in the plan's columns, by formula. */
  fields: Record<string, number>;
  conditions: Record<string, number>;
  fileName: number | null;
  /** Places of the row's own columns, by name. */
  row: Record<string, number>;
  /** The table whose rows the letters are for; null where the query groups rows. */
  table: Table | null;
  related: Related[];
};

/** A table's query as a panel's, with the letter's parameters to be had in it. */
const asPanel = (related: Related, query: QuerySpec): Panel => {
  const own = new Set(related.query.parameters.map((p) => p.name));
  const parameters = [...related.query.parameters, ...query.parameters.filter((p) => !own.has(p.name))];
  return { ...related, query: { ...related.query, parameters }, first: 1 };
};

/** The query of a table of related rows for one letter. */
export function relatedQuery(related: Related, query: QuerySpec, table: Table, cells: RowCells, schema: Schema): Checked<QuerySpec> {
  return panelQuery(asPanel(related, query), table, cells, schema);
}

/** Columns of the row that a table of related rows compares with. */
function columnsNeeded({ match, query }: Related, table: Table, schema: Schema): string[] {
  const ofMatch = () => {
    if (match.kind === "same") return [match.column, ...table.key];
    const link = match.kind === "link" ? schema.links.find((l) => l.id === match.step.link) : undefined;
    return link && match.kind === "link" ? comparisons(link, match.step.toward).map((c) => c.near) : [];
  };
  const named = comparisonsIn(query.conditions).flatMap((c) => c.values.flatMap((v) => (v.kind === "field" && v.join === PARENT ? [v.column] : [])));
  return [...ofMatch(), ...named];
}

/** A formula that is no more than a column's name is that column, and is written the way the column is. */
function operandOf(text: string, rows: Table): QueryColumn["value"] {
  const formula = { kind: "formula" as const, text };
  try {
    const ast = parseFormula(text);
    const found = ast.node === "name" ? fieldByNames([{ id: "", alias: "", table: rows, path: [], join: null }], ast.path) : null;
    return found ? { kind: "field", join: "", column: found.column.name } : formula;
  } catch {
    return formula;
  }
}

/**
 * Resolves a letter on a schema.
 * @param query the letter's query
 * @returns the plan; or all problems: those of a formula under ["fields", formula], of a passage under
 *   ["conditions", formula], of a table under ["tables", id]; codes letterRow and tableGone beside those of queries
 * @example a letter whose text has the field "name" gives one row a letter with a column for it
 */
export function planLetter(spec: LetterSpec, query: QuerySpec, schema: Schema, context: RunContext): Checked<LetterPlan> {
  const table = query.grouped ? null : (findTable(schema, query.source) ?? null);
  const standing = tablesOf(spec);
  const related = spec.tables.filter((t) => standing.has(t.id));
  const problems: Problem[] = [...standing].flatMap((id) => (related.some((t) => t.id === id) ? [] : [problem("letterTableGone", ["tables", id])]));
  problems.push(...paperProblems(spec.page), ...placeProblems(spec));
  if (!table && related.length > 0) problems.push(problem("letterRow", ["tables", related[0]?.id ?? ""], { table: related[0]?.title ?? "" }));
  const needed = table ? [...new Set([...table.key, ...related.flatMap((t) => columnsNeeded(t, table, schema))])] : [];
  const own = needed.map((name): QueryColumn => ({ id: `row ${name}`, value: { kind: "field", join: "", column: name }, hidden: true }));
  const inner = resolveQuery({ ...query, columns: [...query.columns, ...own] }, schema, context);
  if (!inner.ok) return { ok: false, problems: [...problems, ...inner.problems] };
  if (table) problems.push(...related.flatMap((t) => relatedProblems(t, query, table, schema, context)));

  const fields = formulasOf(spec);
  const conditions = [...new Set(whensOf(spec).flatMap((w) => (w.kind === "formula" ? [w.text] : [])))];
  const rows = tableOfPlan(inner.value);
  const columns: QueryColumn[] = [];
  const places: (string | number)[][] = [];
  const add = (column: QueryColumn, path: (string | number)[]): number => {
    places.push(path);
    return columns.push(column) - 1;
  };
  add({ id: "letter", value: { kind: "formula", text: "1" } }, []);
  const fieldAt = fields.map((text, i) => add({ id: `field ${i}`, value: operandOf(text, rows) }, ["fields", text]));
  const conditionAt = conditions.map((text, i) => add({ id: `condition ${i}`, value: { kind: "formula", text } }, ["conditions", text]));
  const fileName = spec.fileName.trim() === "" ? null : add({ id: "file", value: operandOf(spec.fileName, rows) }, ["fileName"]);
  const rowAt = own.map((c) => add({ id: c.id, value: { kind: "field", join: "", column: c.id } }, []));
  const asked = inner.value.order.map(({ column, direction }, i) => {
    add({ id: `order ${i}`, value: { kind: "field", join: "", column } }, []);
    return { column: `order ${i}`, direction };
  });
  // What the order leaves level stands by its key, as in the query's own sheet.
  const order = [...asked, ...(table?.key ?? []).map((name) => ({ column: `row ${name}`, direction: "up" as const }))];
  const outer = resolveOver({ ...overRows(), columns, order, parameters: query.parameters }, inner.value, context);
  if (!outer.ok) {
    const at = (path: Problem["path"]) => (path[0] === "columns" ? (places[Number(path[1])] ?? path) : path);
    return { ok: false, problems: [...problems, ...outer.problems.map((p) => ({ ...p, path: at(p.path) }))] };
  }
  for (const [i, at] of conditionAt.entries())
    if (outer.value.columns[at]?.type.kind !== "yesno") problems.push(problem("letterCondition", ["conditions", conditions[i] ?? ""]));
  if (problems.length > 0) return { ok: false, problems };
  const record = (keys: string[], at: number[]) => Object.fromEntries(keys.map((k, i) => [k, at[i] ?? 0]));
  const plan = { ...outer.value, parameters: inner.value.parameters };
  return {
    ok: true,
    value: { plan, fields: record(fields, fieldAt), conditions: record(conditions, conditionAt), fileName, row: record(needed, rowAt), table, related },
  };
}

/** What stands in the text alone: elsewhere there is no room for it. */
const IN_TEXT: ReadonlySet<Block["type"]> = new Set(["table", "picture", "related", "pageBreak"]);

const placeProblems = (spec: LetterSpec): Problem[] =>
  TEXTS.filter((name) => name !== "body" && [...blocksOf(spec[name].content)].some((b) => IN_TEXT.has(b.type))).map((name) => problem("letterPlace", [name]));

/** The least paper, in mm across and down, that margins must leave. */
const LEAST_MM = 60;

function paperProblems({ paper, margins }: LetterSpec["page"]): Problem[] {
  const [width, height] = [PAPERS[paper].width - margins.left - margins.right, PAPERS[paper].height - margins.top - margins.bottom];
  if (width >= LEAST_MM && height >= LEAST_MM) return [];
  return [problem("pageTooSmall", ["page"], { width: Math.round(width), height: Math.round(height) })];
}

/** What stands in the way of a table of related rows, told before there is a row. */
function relatedProblems(related: Related, query: QuerySpec, table: Table, schema: Schema, context: RunContext): Problem[] {
  const made = relatedQuery(related, query, table, {}, schema);
  const resolved = made.ok ? resolveQuery(made.value, schema, context) : made;
  return resolved.ok ? [] : resolved.problems.map((p) => ({ ...p, path: ["tables", related.id, ...p.path] }));
}

/** The row's own cells, by column. */
export const rowCells = ({ row }: LetterPlan, cells: Cell[]): RowCells =>
  Object.fromEntries(Object.entries(row).map(([name, at]) => [name, cells[at] ?? null]));

/** The letters of one row of the table: those whose row has this key. */
export function forRow(plan: LetterPlan, query: QuerySpec, key: string[]): QuerySpec | null {
  if (!plan.table || plan.table.key.length === 0 || plan.table.key.length !== key.length) return null;
  const conditions = plan.table.key.map((column, i) => ({
    id: `letter of ${i}`,
    left: { kind: "field" as const, join: "", column },
    operator: "is" as const,
    values: [{ kind: "value" as const, text: key[i] ?? "" }],
  }));
  return { ...query, conditions: [...query.conditions, ...conditions] };
}
