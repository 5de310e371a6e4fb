import { type Expr, fieldsOf, literal, withFigures } from "../expression/expr";
import { type Cell, isMisfit, whole } from "../types/valueType";
import { orderTerms } from "./again";
import { compileRows, oneRow, type RowsSql, rowsSql, SqlWriter } from "./compile";
import { type Dialect, quoted } from "./dialect/dialect";
import { ofNothing } from "./everyGroup";
import { valueOfColumn } from "./home";
import { isKey, type Plan, type PlanColumn, rowsOfGroups, uncut } from "./plan";

/*
 * Subtotals by levels in a sheet of groups: behind the lines of each value of a key a line of what its rows come to,
 * worked out anew over them as a footing is. They stand in the sheet alone: what reads the query's rows gets none.
 */

/** The column behind a sheet's own that says of how many keys a line is: fewer than there are in a subtotal. */
export const DEPTH = "depth";

/** The keys of a plan's groups, by their places. */
export const keyPlaces = (plan: Plan): number[] => plan.columns.flatMap((c, at) => (isKey(c) ? [at] : []));

/** Whether an expression over a group is told by figures and some keys alone. */
function isTold(expr: Expr, keys: Set<string>): boolean {
  if (keys.has(JSON.stringify(expr))) return true;
  const bare = withFigures(expr, (figure) => literal(null, figure.type));
  if (bare.node === "call") return expr.node === "call" && expr.args.every((arg) => isTold(arg, keys));
  if (bare.node === "period") return expr.node === "period" && isTold(expr.of, keys);
  return fieldsOf(bare).length === 0;
}

/** Whether a subtotal over some keys has a value in a column: where the footing has one, and no other key decides it. */
export function hasSubtotal(column: PlanColumn, keys: Expr[]): boolean {
  if (column.window || isKey(column) || !(column.totalled || column.foot)) return false;
  return isTold(valueOfColumn(column), new Set(keys.map((key) => JSON.stringify(key))));
}

/** A level of subtotals: the keys its lines are of, by their places, and how many those are. */
export type Level = { depth: number; places: number[]; exprs: Expr[] };

/** The levels of a sheet's subtotals, the widest first. */
export function levelsOf(plan: Plan): Level[] {
  const places = keyPlaces(plan);
  return (plan.grouped ? (plan.subtotals ?? []) : []).map((id) => {
    const depth = places.findIndex((at) => plan.columns[at]?.id === id) + 1;
    const own = places.slice(0, depth);
    return { depth, places: own, exprs: own.flatMap((at) => plan.columns[at]?.expr ?? []) };
  });
}

/** The groups of a level: over the rows of the groups that are shown. */
export const levelPlan = (plan: Plan, { places, exprs }: Level): Plan => ({
  ...rowsOfGroups(plan, { ...uncut(plan), subtotals: [] }),
  grouped: true,
  columns: plan.columns.filter((c, at) => places.includes(at) || hasSubtotal(c, exprs)),
  every: [],
  subtotals: [],
  order: [],
  tieBreak: exprs,
  groupConditions: [],
});

/** Of a sheet's line, the key in whose place a subtotal says that it is one, and those behind it; null for a line of its own group. */
export function subtotalOf(plan: Plan, line: Cell[]): { label: number; empty: number[] } | null {
  if (levelsOf(plan).length === 0) return null;
  const places = keyPlaces(plan);
  const [label, ...empty] = places.slice(Number(line[plan.columns.length] ?? places.length));
  return label === undefined ? null : { label, empty };
}

/** The keys that a line of a sheet of groups is of: those of its group, or of a subtotal the first ones. What does not fit its type is grouped as empty. */
export function lineKeys(plan: Plan, line: Cell[]): (string | number | null)[] {
  const places = keyPlaces(plan);
  const depth = levelsOf(plan).length > 0 ? Number(line[plan.columns.length] ?? places.length) : places.length;
  return places.slice(0, depth).map((at) => {
    const cell = line[at] ?? null;
    return isMisfit(cell) ? null : cell;
  });
}

/** What a subtotal is called, in a sheet and in its files. */
export const SUBTOTAL_WORD = "Subtotal";

const LINES = quoted("lines");

/** The SQL of a sheet's lines, subtotals among them: a last column says how many keys each is of. */
export function compileSheet(plan: Plan, dialect: Dialect, window?: { offset: number; rows: number }): RowsSql {
  const levels = levelsOf(plan);
  if (levels.length === 0) return compileRows(plan, dialect, window);
  const writer = new SqlWriter(dialect);
  const { text, columns } = linesSql(plan, levels, writer);
  const places = keyPlaces(plan);
  const name = (at: number) => `u.${quoted(`c${at}`)}`;
  const at = (column: PlanColumn) => name(plan.columns.indexOf(column));
  const terms = places.flatMap((place, i) => {
    const { id = "" } = plan.columns[place] ?? {};
    const own = plan.order.filter((o) => o.column === id);
    const level = levels.find((l) => l.depth === i + 1);
    if (!level && !levels.some((l) => l.depth > i)) return [];
    const term = orderTerms({ columns: plan.columns, order: own.length > 0 ? own : [{ column: id, direction: "up" }] }, writer, at, []);
    return [...term, ...(level ? [`CASE WHEN u.${DEPTH} = ${level.depth} THEN 1 ELSE 0 END`] : [])];
  });
  const rest = orderTerms(
    plan,
    writer,
    at,
    places.map((place) => ({ sql: name(place), filled: false })),
  ).filter((term) => !terms.includes(term));
  const limit = window ? `\nLIMIT ${Math.trunc(window.rows)} OFFSET ${Math.trunc(window.offset)}` : "";
  return { ...writer.sql(`${text}\nORDER BY ${[...terms, ...rest].join(", ")}${limit}`), columns };
}

/** How many lines a sheet has, its subtotals among them, as SQL of one value. */
export function compileLineCount(plan: Plan, dialect: Dialect): RowsSql {
  const writer = new SqlWriter(dialect);
  const { text } = linesSql(plan, levelsOf(plan), writer);
  return { ...writer.sql(`SELECT COUNT(*) FROM (\n${text}\n) AS n`), columns: [{ id: "lines", type: whole, raw: null }] };
}

function linesSql(plan: Plan, levels: Level[], writer: SqlWriter): { text: string; columns: RowsSql["columns"] } {
  const name = (at: number) => quoted(`c${at}`);
  const all = plan.columns.map((_, at) => at);
  const lines = rowsSql(
    plan,
    writer,
    plan.columns.map((column, at) => ({ column, name: `c${at}` })),
  );
  const named = levels.map((level) => {
    const inner = levelPlan(plan, level);
    const select = inner.columns.map((column) => ({ column, name: `c${plan.columns.findIndex((c) => c.id === column.id)}` }));
    return `${quoted(`s${level.depth}`)} AS (\n${rowsSql(inner, writer, [...select, oneRow(inner)])}\n)`;
  });
  const subtotals = levels.map((level) => {
    const keys = level.places.map((at) => ({ key: JSON.stringify(plan.columns[at]?.expr), at }));
    const value = (column: PlanColumn, at: number): string => {
      if (level.places.includes(at)) return `k.${name(at)}`;
      if (!hasSubtotal(column, level.exprs)) return writer.bind(null, column.type);
      // A group without rows has a subtotal of nothing.
      return `CASE WHEN g.one IS NOT NULL THEN g.${name(at)} ELSE ${writer.checked(ofNothing(valueOfColumn(column), keys))} END`;
    };
    const on = level.places.map((at) => `g.${name(at)} IS NOT DISTINCT FROM k.${name(at)}`).join(" AND ");
    const spine = `(SELECT DISTINCT ${level.places.map(name).join(", ")} FROM ${LINES}) AS k`;
    return `SELECT ${plan.columns.map((c, at) => `${value(c, at)} AS ${name(at)}`).join(", ")}, ${level.depth} AS ${DEPTH}\nFROM ${spine} LEFT JOIN ${quoted(`s${level.depth}`)} AS g ON ${on}`;
  });
  const own = `SELECT ${all.map(name).join(", ")}, ${keyPlaces(plan).length} AS ${DEPTH} FROM ${LINES}`;
  const text = `WITH ${[`${LINES} AS (\n${lines}\n)`, ...named].join(",\n")}\nSELECT ${all.map(name).join(", ")}, ${DEPTH} AS ${name(all.length)} FROM (\n${[own, ...subtotals].join("\nUNION ALL\n")}\n) AS u`;
  const columns = [...plan.columns.map((c) => ({ id: c.id, type: c.type, raw: null })), { id: DEPTH, type: whole, raw: null }];
  return { text, columns };
}
