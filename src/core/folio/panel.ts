import { PARENT } from "../derive/parent";
import { writtenOut } from "../posting/coerce";
import { mapComparisons } from "../query/conditions";
import { bring, firstColumns, stepsToJoin, tableOf } from "../query/edit";
import { emptyQuery } from "../query/empty";
import type { Condition, ConditionTree, QuerySpec, Value } from "../query/spec";
import { comparisons, findColumn, findTable, MIRRORED, mayChange, type Schema, type Step, stepsFrom, type Table } from "../schema/schema";
import { type Checked, type Problem, problem } from "../types/problem";
import { type Cell, isMisfit } from "../types/valueType";
import type { FolioSpec, Panel } from "./spec";

/** A row of a table: its cells by column. */
export type RowCells = Record<string, Cell>;

/** A cell as a condition's value; null where it is empty or does not fit. */
function cellValue(table: Table, cells: RowCells, name: string): Value | null {
  const column = findColumn(table, name);
  const cell = cells[name] ?? null;
  if (!column || cell === null || isMisfit(cell)) return null;
  return { kind: "value", text: writtenOut(cell, column.type).slice(0, column.type.kind === "timestamp" ? 10 : undefined) };
}

/** A condition that no row meets: what an empty value is compared with is never the same (SQL's NULL). */
const nothing = (id: string, column: string): Condition[] => [
  { id: `${id} empty`, left: { kind: "field", join: "", column }, operator: "empty", values: [] },
  { id: `${id} filled`, left: { kind: "field", join: "", column }, operator: "notEmpty", values: [] },
];

function compared(id: string, column: string, operator: Condition["operator"], value: Value | null): Condition[] {
  return value ? [{ id, left: { kind: "field", join: "", column }, operator, values: [value] }] : nothing(id, column);
}

/**
 * The query of a panel for one row: its own description with the row's values put in.
 * @returns the query, or why it cannot be made: a link, table or column that is gone
 */
export function panelQuery(panel: Panel, table: Table, cells: RowCells, schema: Schema): Checked<QuerySpec> {
  const refuse = (found: Problem): Checked<QuerySpec> => ({ ok: false, problems: [found] });
  const { match, query } = panel;
  const matching: Condition[] = [];
  if (match.kind === "link") {
    const link = schema.links.find((l) => l.id === match.step.link);
    if (!link || link[match.step.toward].table !== query.source) return refuse(problem("linkGone", ["match"], { link: match.step.link }));
    comparisons(link, match.step.toward).forEach((c, i) =>
      matching.push(...compared(`match ${i}`, c.far, MIRRORED[c.operator], cellValue(table, cells, c.near))),
    );
  }
  if (match.kind === "same") {
    if (!findColumn(table, match.column)) return refuse(problem("columnGone", ["match"], { table: table.label, column: match.column }));
    matching.push(...compared("match", match.column, "is", cellValue(table, cells, match.column)));
    if (!match.itself) for (const [i, key] of table.key.entries()) matching.push(...compared(`itself ${i}`, key, "isNot", cellValue(table, cells, key)));
  }
  const conditions = mapComparisons(query.conditions, (condition): ConditionTree | null => {
    const values = condition.values.map((v) => (v.kind === "field" && v.join === PARENT ? cellValue(table, cells, v.column) : v));
    if (!values.includes(null)) return { ...condition, values: values as Value[] };
    return condition.left.kind === "field" ? { id: condition.id, holds: "all", of: nothing(condition.id, condition.left.column) } : null;
  });
  return { ok: true, value: { ...query, conditions: [...matching, ...conditions] } };
}

/**
 * What a new row of a panel has already: the values by which it belongs to the row that is looked at.
 * @returns null where no row can be added there: the panel is not of a link, its table has no key or cannot be written, a value is empty
 */
export function newRowOf(panel: Panel, table: Table, cells: RowCells, schema: Schema): { table: Table; given: Record<string, string> } | null {
  const { match, query } = panel;
  const target = findTable(schema, query.source);
  const link = match.kind === "link" ? schema.links.find((l) => l.id === match.step.link) : undefined;
  if (match.kind !== "link" || !link || !target || !mayChange(target) || target.trigger || target.key.length === 0) return null;
  const compared = comparisons(link, match.step.toward);
  const given = compared.flatMap((c): [string, string][] => {
    const value = cellValue(table, cells, c.near);
    return c.operator === "is" && value?.kind === "value" ? [[c.far, value.text]] : [];
  });
  return given.length === compared.length ? { table: target, given: Object.fromEntries(given) } : null;
}

/** The columns that say nothing in a panel: those by which its rows were found. */
function columnsBeside(schema: Schema, source: string): QuerySpec["columns"] {
  return firstColumns(schema, source, false).slice(0, 6);
}

const SHOWN = 8;

/** A panel of the rows a link leads to. */
export function linkPanel(schema: Schema, step: Extract<Panel["match"], { kind: "link" }>["step"], id: string): Panel | null {
  const far = schema.links.find((l) => l.id === step.link)?.[step.toward];
  if (!far) return null;
  const query = { ...emptyQuery(far.table), columns: columnsBeside(schema, far.table) };
  return { id, title: far.name.charAt(0).toUpperCase() + far.name.slice(1), match: { kind: "link", step }, query, first: SHOWN, hideEmpty: true };
}

/** A panel of the rows of the same table with the same value, or of all rows of a table. */
export function tablePanel(schema: Schema, source: Table, match: Exclude<Panel["match"], { kind: "link" }>, id: string): Panel {
  const title = match.kind === "same" ? `The same ${findColumn(source, match.column)?.label ?? match.column}` : source.label;
  const query = { ...emptyQuery(source.name), columns: columnsBeside(schema, source.name) };
  return { id, title: title.charAt(0).toUpperCase() + title.slice(1), match, query, first: SHOWN, hideEmpty: false };
}

/** The folio of a table for which nobody made one: a panel for each link that leads to many. */
export function firstFolio(schema: Schema, table: string): FolioSpec {
  const steps = stepsFrom(schema, table).filter((s) => s.far.leadsTo === "many");
  return { version: 1, table, panels: steps.flatMap(({ step }, i) => linkPanel(schema, step, `p${i + 1}`) ?? []).slice(0, 12) };
}

/** The query of one row: every column, kept to the row by its key. */
export function rowQuery(table: Table, key: string[]): QuerySpec {
  const columns = table.columns.filter((c) => !c.derived?.broken).map((c) => ({ id: c.name, value: { kind: "field" as const, join: "", column: c.name } }));
  const conditions = table.key.map(
    (name, i): Condition => ({
      id: `key ${i}`,
      left: { kind: "field", join: "", column: name },
      operator: "is",
      values: [{ kind: "value", text: key[i] ?? "" }],
    }),
  );
  return { ...emptyQuery(table.name), columns, conditions, limit: 1 };
}

/**
 * A query with the key of its source beside its columns, hidden, or that of a table along links from it, so that a row of
 * it can be opened: the key's places. null where such a row cannot be told.
 */
export function withKey(spec: QuerySpec, schema: Schema, steps: Step[] = []): { spec: QuerySpec; table: string; key: string[] } | null {
  const { spec: brought, join } = bring(spec, steps);
  const table = findTable(schema, tableOf(brought, schema, join) ?? "");
  if (!table || table.key.length === 0 || spec.grouped) return null;
  const added = table.key.map((column, i) => ({ id: `folio key ${i}`, value: { kind: "field" as const, join, column }, hidden: true }));
  return { spec: { ...brought, columns: [...brought.columns, ...added] }, table: table.name, key: added.map((c) => c.id) };
}

/** A row that a cell belongs to or names, besides the row of the sheet: by the links to it, all of which lead to one. */
export type LinkedRow = { steps: Step[]; words: string };

/** The rows that can be opened from a column: that of the table it is of, and those its own value links to. */
export function linkedRows(spec: QuerySpec, schema: Schema, id: string): LinkedRow[] {
  const value = spec.columns.find((c) => c.id === id)?.value;
  if (spec.grouped || value?.kind !== "field") return [];
  const steps = stepsToJoin(spec, value.join);
  const named = (walk: Step[]): LinkedRow[] => {
    const sides = walk.map(({ link, toward }) => schema.links.find((l) => l.id === link)?.[toward]);
    const last = sides.at(-1);
    return last && sides.every((side) => side?.leadsTo === "one") ? [{ steps: walk, words: last.name }] : [];
  };
  const table = tableOf(spec, schema, value.join);
  const isOfLink = value.join !== "" && steps.length === 0;
  const onward = isOfLink || !table ? [] : stepsFrom(schema, table).filter((s) => s.near.columns.length === 1 && s.near.columns[0] === value.column);
  return [...named(steps), ...onward.flatMap(({ step }) => named([...steps, step]))];
}
