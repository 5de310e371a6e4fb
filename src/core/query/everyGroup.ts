import { type Expr, literal, withFigures } from "../expression/expr";
import { ownStorage } from "../types/storage";
import type { ValueType } from "../types/valueType";
import type { Own } from "./again";
import type { AggregateName } from "./choices";
import { type Dialect, quoted } from "./dialect/dialect";
import { STEP } from "./everyValue";
import { valueOfColumn } from "./home";
import { everyOf, type Plan, type PlanEvery } from "./plan";

/*
 * The SQL of groups of which some have no rows:
 *
 *   the groups that rows make → every value of their keys, beside those → what a group without rows comes to → conditions on groups
 */

type Writes = { dialect: Dialect; expr: (expr: Expr) => string; checked: (expr: Expr) => string };

/** The names, in SQL, of the groups that rows make and of all that are shown; of each, `d` with a number, is a list of values. */
const MADE = quoted("groups made");
const EVERY = quoted("every group");

/** Figures of no rows at all that are not empty. */
const OF_NOTHING: Partial<Record<AggregateName, string>> = { count: "0", countDifferent: "0" };

/** The most groups that are made beside those of rows, and the most values of one key that are counted out. */
export const MOST_GROUPS = 100_000;

/** What is said, by the engine and by the recount, where there would be more. */
export const tooManyGroups = (): RangeError => new RangeError("too many groups without rows");

/** A group's column, by the name it has among the groups. */
export const keyAt = (at: number, type: ValueType): Expr => ({
  node: "field",
  alias: "k",
  column: `c${at}`,
  type,
  storage: ownStorage(type),
  guarded: false,
});

/** What an expression over a group comes to where the group has no rows: its figures are of nothing, its own values are those of its keys. */
export function ofNothing(expr: Expr, keys: { key: string; at: number }[]): Expr {
  const found = keys.find((k) => k.key === JSON.stringify(expr));
  if (found) return keyAt(found.at, expr.type);
  if (expr.node === "figure") return literal(OF_NOTHING[expr.figure] ?? null, expr.type);
  if (expr.node === "period") return { ...expr, of: ofNothing(expr.of, keys) };
  return expr.node === "call" ? { ...expr, args: expr.args.map((arg) => ofNothing(arg, keys)) } : withFigures(expr, (f) => f);
}

/**
 * The rows of a grouped plan with groups that no row makes.
 * @param own what is selected of each group that rows make, by name: columns as c0, c1 …, and what else is asked of it
 * @param body FROM, WHERE and GROUP BY of the groups, without their conditions
 * @param rowsOf the SQL of another plan's columns, by their ids
 */
export function everyGroup(plan: Plan, writer: Writes, own: Own[], body: string, rowsOf: (plan: Plan, columns: string[]) => string): string {
  const columnAt = (id: string) => plan.columns.findIndex((c) => c.id === id);
  const isKey = (at: number) => !plan.columns[at]?.figure && plan.columns[at]?.expr != null;
  const places = plan.columns.flatMap((_, at) => (isKey(at) ? [at] : []));
  const keys = places.map((at) => ({ key: JSON.stringify(plan.columns[at]?.expr), at }));
  const name = (at: number) => quoted(`c${at}`);
  const asked = plan.groupConditions.map((c, i) => ({ sql: writer.checked(c.expr), name: `h${i}` }));
  const made = `${MADE} AS (\nSELECT ${[...own, ...asked].map((s) => `${s.sql} AS ${quoted(s.name)}`).join(",\n  ")}, 1 AS made\n${body}\n)`;

  const every = everyOf(plan);
  const lists = every.map((e, i) => `${quoted(`d${i}`)} ${listOf(e, name(columnAt(e.columns[0] ?? "")), { writer, name, columnAt, rowsOf })}`);
  const placeOf = new Map(every.flatMap((e, i) => e.columns.map((id): [number, string] => [columnAt(id), `${quoted(`d${i}`)}.${name(columnAt(id))}`])));
  const rest = places.filter((at) => !placeOf.has(at));
  const from = [...(rest.length > 0 ? [`(SELECT DISTINCT ${rest.map(name).join(", ")} FROM ${MADE}) AS o`] : []), ...every.map((_, i) => quoted(`d${i}`))];
  const { notTooMany } = writer.dialect;
  const many = from.map((list) => `(SELECT COUNT(*) FROM ${list})`).join(" * ");
  const known = [...placeOf.values()].map((value) => `${value} IS NOT NULL`);
  const filled = [...known, ...(notTooMany ? [notTooMany(many)] : [])].join(" AND ");
  const spine = places.map((at) => `${placeOf.get(at) ?? `o.${name(at)}`} AS ${name(at)}`).join(", ");
  const all = `${EVERY} AS (\nSELECT ${spine}\nFROM ${from.join(" CROSS JOIN ")}\nWHERE ${filled}\nUNION\nSELECT ${places.map(name).join(", ")} FROM ${MADE}\n)`;

  const shown = (expr: Expr, column: string): string => {
    const empty = ofNothing(expr, keys);
    return empty.node === "literal" && empty.value === null ? `g.${column}` : `CASE WHEN g.made = 1 THEN g.${column} ELSE ${writer.checked(empty)} END`;
  };
  const select = own.map((s) => {
    const at = s.of ? (keys.find((k) => k.key === JSON.stringify(s.of))?.at ?? -1) : plan.columns.findIndex((_, i) => s.name === `c${i}`);
    const column = plan.columns[at];
    const value = column && isKey(at) ? `k.${name(at)}` : column ? shown(valueOfColumn(column), name(at)) : `g.${quoted(s.name)}`;
    return `${value} AS ${quoted(s.name)}`;
  });
  const on = places.map((at) => `g.${name(at)} IS NOT DISTINCT FROM k.${name(at)}`).join(" AND ");
  const holds = plan.groupConditions.map((c, i) => shown(c.expr, quoted(`h${i}`))).join("\n  AND ");
  return [
    `WITH RECURSIVE ${[made, ...lists, all].join(",\n")}`,
    `SELECT ${select.join(",\n  ")}\nFROM ${EVERY} AS k LEFT JOIN ${MADE} AS g ON ${on || "1 = 1"}`,
    holds ? `WHERE ${holds}` : "",
  ]
    .filter(Boolean)
    .join("\n");
}

type Naming = {
  writer: Writes;
  name: (at: number) => string;
  columnAt: (id: string) => number;
  rowsOf: (plan: Plan, columns: string[]) => string;
};

/** A list of values as a named table: its columns, and the rows. */
function listOf(every: PlanEvery, first: string, { writer, name, columnAt, rowsOf }: Naming): string {
  const columns = every.columns.map((id) => name(columnAt(id)));
  switch (every.kind) {
    case "rows":
      return `(${columns.join(", ")}) AS (\n${rowsOf(every.rows, every.columns)}\n)`;
    case "listed":
      return `(${first}) AS (${every.values.map((value) => `SELECT ${writer.expr(value)}`).join(" UNION ALL ")})`;
    case "steps": {
      const of = name(columnAt(every.of));
      const steps = quoted(STEP.alias);
      const few = writer.dialect.notTooMany?.("n") ?? `n <= ${MOST_GROUPS}`;
      const inner = `SELECT MIN(${of}) AS v, 1 AS n FROM ${MADE} UNION ALL SELECT ${writer.expr(every.next)}, n + 1 FROM ${steps} WHERE v < (SELECT MAX(${of}) FROM ${MADE}) AND ${few}`;
      return `(${columns.join(", ")}) AS (\nWITH RECURSIVE ${steps}(v, n) AS (${inner})\nSELECT ${every.values.map((value) => writer.expr(value)).join(", ")} FROM ${steps}\n)`;
    }
    default:
      return every satisfies never;
  }
}
