import { aliasesOf, type Expr, type FigureExpr } from "../expression/expr";
import { type Column, findColumn, plural, type Table } from "../schema/schema";
import { whole } from "../types/valueType";
import { AGGREGATES, addsUpByKind } from "./aggregates";
import type { AggregateName } from "./choices";
import { keepsFar } from "./joinWays";
import type { Home, Plan, PlanColumn, PlanJoin, PlanRollup, PlanSource } from "./plan";

/*
 * Where a value stands. A value belongs to the rows of the tables it is read from; a sheet's row may hold the same one
 * again (a shipper's limit on each of its consignments). Its total counts each of those rows once.
 */

type Rows = { source: PlanSource; joins: PlanJoin[] };

/** The tables whose row is told by rows of those given: along links to one, and back along links that come from one. */
function toldBy(aliases: Iterable<string>, joins: PlanJoin[]): Set<string> {
  const told = new Set(aliases);
  for (let size = -1; size !== told.size; ) {
    size = told.size;
    for (const join of joins) {
      // Where rows of the other side come in, those have no row that would tell them.
      if (keepsFar(join.way)) continue;
      const named = (join.when ?? []).flatMap((e) => [...aliasesOf(e)]);
      if (join.leadsTo === "one" && told.has(join.from) && named.every((alias) => alias === join.alias || told.has(alias))) told.add(join.alias);
      if (join.back === "one" && told.has(join.alias)) told.add(join.from);
    }
  }
  return told;
}

/** Where an expression's values stand; null for what reads no table. */
export function homeOf(expr: Expr | null, { source, joins }: Rows): Home | null {
  const brought = new Map(joins.map((j) => [j.alias, j]));
  // What a rollup counts belongs to the row it is counted for.
  const own = (alias: string): string => {
    const join = brought.get(alias);
    return join?.rollup ? own(join.from) : alias;
  };
  const read = [...new Set([...aliasesOf(expr)].map(own))];
  // What is read from elsewhere (the row a rollup is counted for) has no place among these rows.
  if (read.length === 0 || read.some((alias) => alias !== source.alias && !brought.has(alias))) return null;
  const inner = homeInQuery(expr, source);
  if (inner) return inner;
  const of = read.reduce<string[]>((kept, alias) => {
    const others = kept.filter((k) => k !== alias);
    return toldBy(others, joins).has(alias) ? others : kept;
  }, read);
  const tells = toldBy(of, joins);
  const repeating = [source.alias, ...joins.filter((j) => j.leadsTo === "many" && !j.auxiliary).map((j) => j.alias)];
  const keys = of.map((alias) => keysOf(alias, source, brought.get(alias)));
  return {
    words: of.map((alias) => plural(brought.get(alias)?.path.at(-1) ?? source.table.label)).join(" with "),
    of,
    tells: [...tells],
    keys: keys.includes(null) ? null : (keys as Expr[][]).flat(),
    repeated: repeating.some((alias) => !tells.has(alias)),
  };
}

/** What tells the rows of a table apart: its key, or what a link to one compares. */
function keysOf(alias: string, source: PlanSource, join?: PlanJoin): Expr[] | null {
  const table = join?.table ?? source.table;
  const byLink = join && join.leadsTo === "one" && join.on.every((c) => c.operator === "is") ? join.on.map((c) => c.far) : [];
  const names = table.key.length > 0 ? table.key : byLink;
  return names.length === 0 ? null : names.map((name) => keyExpr(alias, table, name));
}

export const keyExpr = (alias: string, table: Table, name: string): Expr => {
  const type = findColumn(table, name)?.type ?? { kind: "text" as const };
  // Told apart as stored: a key that does not fit its type is a key all the same.
  return { node: "field", alias, column: name, type: type.kind === "decimal" ? { kind: "whole" } : type, storage: "plain", guarded: false };
};

/** Over a query's rows a value stands where it stood in there; null where each of its rows holds one of its own. */
function homeInQuery(expr: Expr | null, source: PlanSource): Home | null {
  const columns = fieldNames(expr).map((name) => findColumn(source.table, name));
  const homes = columns.flatMap((c) => (c?.home ? [c.home] : []));
  if (homes.length < columns.length || homes.length === 0) return null;
  const keys = homes.flatMap((h) => h.keys ?? []);
  return {
    words: [...new Set(homes.map((h) => h.words))].join(" with "),
    of: [...new Set(homes.flatMap((h) => h.of))],
    tells: [...new Set(homes.flatMap((h) => h.tells))],
    keys: homes.some((h) => h.keys === null)
      ? null
      : [...new Set(keys)].map((column): Expr => ({ node: "field", alias: source.alias, column, type: { kind: "text" }, storage: "plain", guarded: false })),
    repeated: true,
  };
}

function fieldNames(expr: Expr | null): string[] {
  if (expr === null) return [];
  if (expr.node === "field") return [expr.column];
  if (expr.node === "call") return [...new Set(expr.args.flatMap(fieldNames))];
  return expr.node === "period" ? fieldNames(expr.of) : [];
}

/** Whether a total counts each row of its column's home once: where they are repeated and can be told apart, unless a person said otherwise. */
export const countsOnce = ({ home, everyRow }: Pick<PlanColumn, "home" | "everyRow">): boolean =>
  home?.repeated === true && home.keys !== null && everyRow !== true;

/** A figure of a column, over the rows of a group. */
export const figureOfColumn = (column: PlanColumn, figure: AggregateName): FigureExpr => ({
  node: "figure",
  figure,
  of: column.expr,
  by: column.by ?? null,
  direction: column.direction ?? "up",
  separator: column.separator ?? ", ",
  percent: column.percent ?? 0,
  count: column.count,
  keys: figure === "total" && countsOnce(column) ? (column.home?.keys ?? []) : null,
  type: column.type,
});

const ROW: FigureExpr = { node: "figure", figure: "count", of: null, by: null, direction: "up", separator: "", percent: 0, keys: null, type: whole };

/** A figure of a rollup as an expression over the rows it is taken of, before its conditions. */
export function figureOfRollup({ figure, expr, by, direction, separator, percent, count, keys }: PlanRollup["figures"][number]): Expr {
  if (figure === "formula") return expr ?? ROW;
  const type = AGGREGATES[figure].gives(expr?.type ?? whole);
  return { node: "figure", figure, of: expr, by, direction, separator, percent: percent ?? 0, count, keys: keys ?? null, type };
}

/** What a column comes to: its value, or in a group its figure, its formula over figures, or how many rows there are. */
export function valueOfColumn(column: PlanColumn): Expr {
  const { figure } = column;
  if (figure === "window") throw new TypeError(`${column.id} is worked out from the rows beside it`);
  if (figure === "formula" || !figure) return column.expr ?? ROW;
  return column.expr === null ? ROW : figureOfColumn(column, figure);
}

/** Figures that repeated values change, and that do not count each row of their home once. */
const SWAYED = new Set<PlanColumn["figure"]>([
  "count",
  "average",
  "weightedAverage",
  "median",
  "percentile",
  "deviation",
  "deviationWhole",
  "variance",
  "varianceWhole",
  "share",
]);

/** Whether a figure counts values as often as a join repeats them, so that it is not the figure of the rows they belong to. */
export const isSwayed = ({ figure, home, expr }: Pick<PlanColumn, "figure" | "home" | "expr">): boolean =>
  expr !== null && SWAYED.has(figure) && home?.repeated === true;

/** Whether one row of a total's home may fall into several groups, so that the groups' totals do not add up to the whole. */
export function overlaps(column: PlanColumn, groups: PlanColumn[]): boolean {
  if ((column.figure && column.figure !== "total") || !countsOnce(column)) return false;
  const tells = new Set(column.home?.tells);
  return groups.some(
    (g) => g.expr !== null && (g.home === null || g.home === undefined ? aliasesOf(g.expr).size > 0 : g.home.of.some((alias) => !tells.has(alias))),
  );
}

/** Whether figures of parts add up to that of the whole: by their kind, and because no row is in two parts. */
const partsAddUp = (column: PlanColumn, groups: PlanColumn[]): boolean => !column.figure || (addsUpByKind(column.figure) && !overlaps(column, groups));

/** The expressions a column reads: its value, its order, and what tells its rows apart where they are counted once. */
export const exprsOf = (column: PlanColumn): (Expr | null)[] => [column.expr, column.by ?? null, ...(column.home?.repeated ? (column.home.keys ?? []) : [])];

/** A query's rows with what tells the rows apart that its values belong to, where it repeats them; groups have no such rows. */
export function withKeys(plan: Plan): Plan {
  if (plan.grouped) return plan;
  const named = new Map(plan.columns.flatMap((c) => (c.home?.repeated ? (c.home.keys ?? []) : [])).map((key) => [keyName(key), key]));
  const columns = [...named].map(
    ([id, expr]): PlanColumn => ({ id, expr, type: expr.type, heading: "", origin: "", hidden: true, format: {}, totalled: false }),
  );
  return { ...plan, columns: [...plan.columns, ...columns] };
}

/** Where the keys of a column stand among the columns of `withKeys`; null for one that is not counted once. */
export function keyPlaces(column: PlanColumn, { columns, grouped }: Plan): number[] | null {
  if (grouped || !countsOnce(column)) return null;
  return (column.home?.keys ?? []).map((key) => columns.findIndex((c) => c.id === keyName(key)));
}

/** The name under which a query's rows carry a key. */
export const keyName = (key: Expr): string => (key.node === "field" ? `key ${key.alias} ${key.column}` : "key");

/** Where a column of a query's rows stands, to those who read them. */
export function homeForReaders(column: PlanColumn, groups: PlanColumn[] | null): Column["home"] {
  if (groups !== null) {
    const apart = column.figure !== undefined && !partsAddUp(column, groups);
    return apart ? { words: "groups", of: [], tells: [], keys: null } : undefined;
  }
  const { home } = column;
  return home?.repeated ? { words: home.words, of: home.of, tells: home.tells, keys: home.keys?.map(keyName) ?? null } : undefined;
}
