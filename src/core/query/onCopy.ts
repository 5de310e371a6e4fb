import type { Expr } from "../expression/expr";
import type { FunctionName } from "../expression/names";
import { type Column, type LinkComparison, mayMisfit } from "../schema/column";
import { type Schema, storedColumns } from "../schema/schema";
import { scaleOf } from "../types/valueType";
import { looksAgain } from "./compile";
import type { Plan, PlanColumn, PlanJoin, PlanRollup, PlanSource, Table } from "./plan";

/*
 * Which plans may be answered from a copy of tables that lies by columns, where numbers are added in any order and by
 * several at once. All that could come to something else there, in its last digit or in the order of its rows, is left
 * to the database itself.
 */

/** A table that a plan reads, and what its columns are taken for: of a copy made otherwise nothing can be read. */
export type ReadTable = { name: string; rows: number; made: string };

/** What a table's columns are taken for, in one text. */
export const madeOf = (table: Table): string => JSON.stringify(storedColumns(table).map((c) => [c.name, c.type, c.storage, mayMisfit(c)]));

/** Their last digits are those of the machine's library. */
const BY_THE_LIBRARY: ReadonlySet<FunctionName> = new Set<FunctionName>(["sqrt", "exp", "ln", "log10", "power"]);

class Otherwise extends Error {}

/** The stored tables a plan reads, each once; null where the copy might answer otherwise. */
export function tablesOnCopy(plan: Plan): ReadTable[] | null {
  const tables = new Map<string, ReadTable>();
  try {
    walkPlan(plan, new Map(), (table) => tables.set(table.name, { name: table.name, rows: table.rows, made: madeOf(table) }));
  } catch (error) {
    if (error instanceof Otherwise) return null;
    throw error;
  }
  return [...tables.values()];
}

type Found = (table: Table) => void;
/** What the names of tables stand for, within a plan. */
type Names = Map<string, Column[]>;

function walkPlan(plan: Plan, outer: Names, found: Found): void {
  // The optimizer of the copy's engine goes wrong where rows are looked at again once they are there, or groups are made that no row makes.
  if (looksAgain(plan)) throw new Otherwise();
  const names = new Map(outer);
  walkSource(plan.source, names, found);
  for (const join of plan.joins) walkJoin(join, names, found);
  if (plan.ofGroups) walkPlan(plan.ofGroups, new Map(), found);
  for (const column of plan.columns) walkColumn(column);
  for (const { expr } of [...plan.conditions, ...plan.groupConditions]) walkExpr(expr);
}

function walkSource({ alias, table, query, stack }: PlanSource, names: Names, found: Found): void {
  names.set(alias, table.columns);
  for (const part of [...(query ? [query] : []), ...(stack?.parts ?? [])]) walkPlan(part, new Map(), found);
  if (!query && !stack) walkTable(table, found);
}

function walkTable(table: Table, found: Found): void {
  if (table.view || table.rowsOf) throw new Otherwise();
  found(table);
  for (const rule of table.rules ?? []) walkPlan({ ...rule, source: { ...rule.source, table: { ...rule.source.table, rules: undefined } } }, new Map(), found);
}

function walkJoin(join: PlanJoin, names: Names, found: Found): void {
  walkSource({ alias: join.alias, table: join.table, ...(join.query ? { query: join.query } : {}) }, names, found);
  if (join.rollup) walkRollup(join, join.rollup, found);
  // A rollup's own pairs compare the tables; what it is joined by is what it was paired by.
  else walkCompared(join.on, names.get(join.from), join.table.columns);
  for (const expr of join.when ?? []) walkExpr(expr);
  if (join.rollup && !join.rollup.pairs) walkCompared(join.on, names.get(join.from), join.table.columns);
}

function walkRollup(join: PlanJoin, { alias, joins, figures, pairs }: PlanRollup, found: Found): void {
  const names: Names = new Map([[alias, join.table.columns]]);
  for (const inner of joins) walkJoin(inner, names, found);
  for (const { expr, figure, where, by, keys } of figures) {
    for (const each of [expr, by, ...where, ...(keys ?? [])]) if (each) walkExpr(each);
    if (figure !== "count" && expr?.type.kind === "floating") throw new Otherwise();
  }
  if (!pairs) return;
  walkSource(pairs, names, found);
  walkCompared(join.on, pairs.table.columns, join.table.columns);
  for (const expr of pairs.when ?? []) walkExpr(expr);
}

/** Stored values are compared as they lie: on the copy only those of one kind, which all fit it, compare alike. */
function walkCompared(on: LinkComparison[], near: Column[] | undefined, far: Column[]): void {
  for (const compared of on) {
    const [a, b] = [near?.find((c) => c.name === compared.near), far.find((c) => c.name === compared.far)];
    const same = a && b && a.type.kind === b.type.kind && scaleOf(a.type) === scaleOf(b.type) && a.storage === b.storage;
    if (!same || mayMisfit(a) || mayMisfit(b) || a.storage === "written" || a.type.kind === "floating") throw new Otherwise();
  }
}

function walkColumn({ expr, type, figure, totalled, foot, by, home }: PlanColumn): void {
  for (const each of [expr, foot ?? null, by ?? null, ...(home?.keys ?? [])]) if (each) walkExpr(each);
  const figures = (figure && figure !== "count") || totalled || foot;
  if (figures && (type.kind === "floating" || expr?.type.kind === "floating" || by?.type.kind === "floating")) throw new Otherwise();
}

function walkExpr(expr: Expr): void {
  if (expr.node === "period") return walkExpr(expr.of);
  if (expr.node === "call") {
    if (BY_THE_LIBRARY.has(expr.fn) || (expr.fn === "toText" && expr.args[0]?.type.kind === "floating")) throw new Otherwise();
    expr.args.forEach(walkExpr);
  }
  if (expr.node !== "figure") return;
  if ([expr.type, expr.of?.type, expr.by?.type].some((type) => type?.kind === "floating")) throw new Otherwise();
  for (const each of [expr.of, expr.by, ...(expr.keys ?? [])]) if (each) walkExpr(each);
}

/**
 * The tables that plans read where those may be read as of an earlier moment: some plan works out groups of a large table,
 * and all large ones are of those of which that will do. Null elsewhere: rows one by one are read as they are now.
 * @param chosen the large tables of which it will do; smaller ones are copied beside them
 * @param large from how many rows on a table is
 */
export function tablesAsOf(plans: Plan[], chosen: string[], large: number): ReadTable[] | null {
  if (!plans.some((plan) => plan.grouped)) return null;
  const tables = tablesOfAll(plans);
  const isLarge = ({ rows }: ReadTable) => rows >= large;
  return tables?.some(isLarge) && tables.every((t) => !isLarge(t) || chosen.includes(t.name)) ? tables : null;
}

/** The stored tables that several plans read, each once; null where the copy might answer one of them otherwise. */
export function tablesOfAll(plans: Plan[]): ReadTable[] | null {
  const tables = plans.map(tablesOnCopy);
  if (tables.includes(null)) return null;
  return [...new Map(tables.flatMap((found) => found ?? []).map((t) => [t.name, t])).values()];
}

/** A column as it is copied; a guarded one holds values that do not fit. */
export type CopiedColumn = Pick<Column, "name" | "type" | "storage"> & { guarded: boolean };
/** A table to be copied: its stored columns as the ledger takes them. */
export type TableToCopy = ReadTable & { columns: CopiedColumn[] };

/**
 * The tables of which a copy is worth while: none, or with a large one all that can be joined to it.
 * @param large from how many rows on a table is
 */
export function tablesToCopy({ tables }: Schema, large: number): TableToCopy[] {
  const stored = tables.filter((t) => !t.view);
  return stored.some((t) => t.rows >= large) ? stored.map(toCopy) : [];
}

/** The tables to be copied so that those that were chosen can be read as of one moment: with them all smaller ones. */
export function tablesToCopyAsOf({ tables }: Schema, chosen: string[], large: number): TableToCopy[] {
  const stored = tables.filter((t) => !t.view);
  const isChosen = (table: Table) => table.rows >= large && chosen.includes(table.name);
  return stored.some(isChosen) ? stored.filter((t) => t.rows < large || isChosen(t)).map(toCopy) : [];
}

const toCopy = (table: Table): TableToCopy => ({
  name: table.name,
  rows: table.rows,
  made: madeOf(table),
  columns: storedColumns(table).map((c) => ({ name: c.name, type: c.type, storage: c.storage, guarded: mayMisfit(c) })),
});
