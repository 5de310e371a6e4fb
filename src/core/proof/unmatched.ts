import { call, type Expr, negated } from "../expression/expr";
import { keyExpr } from "../query/home";
import { storedExpr } from "../query/operands";
import type { Plan, PlanColumn, PlanJoin } from "../query/plan";
import { tableOfPlan } from "../query/planTable";
import { yesno } from "../types/valueType";

/** Whether the rows of a joined table that nothing matches can be told apart, and so be opened. */
export const canOpenUnmatched = ({ table }: PlanJoin): boolean => table.key.length > 0;

/**
 * The rows of a joined table that no row matches.
 * @param matched the rows it is joined to, itself among them, which all find one
 * @returns null where nothing tells the table's rows apart
 */
export function unmatchedRows(join: PlanJoin, matched: Plan): Plan | null {
  const { table, alias, query } = join;
  if (!canOpenUnmatched(join)) return null;
  const column = (id: string, expr: Expr): PlanColumn => ({
    id,
    expr,
    type: expr.type,
    heading: id,
    origin: id,
    hidden: false,
    format: { grouping: false },
    totalled: false,
  });
  const keys = table.key.map((name, i) => column(`k${i}`, keyExpr(alias, table, name)));
  const tieBreak = keys.flatMap((k) => (k.expr ? [k.expr] : []));
  const found: Plan = { ...matched, grouped: true, columns: keys, tieBreak, order: [], groupConditions: [] };
  const own = table.name;
  const far = { ...tableOfPlan(found, MATCHED, MATCHED), key: keys.map((k) => k.id) };
  const same = table.key.map((name, i) => call("is", [keyExpr(own, table, name), keyExpr(MATCHED, far, `k${i}`)], yesno));
  const probe: PlanJoin = {
    id: MATCHED,
    alias: MATCHED,
    from: own,
    table: far,
    path: [MATCHED],
    leadsTo: "one",
    back: "one",
    way: "keep",
    on: [],
    query: found,
    when: same,
    auxiliary: true,
  };
  const columns = table.columns
    .filter((c) => !c.derived)
    .map((c) => ({ ...column(c.name, storedExpr(own, c)), heading: c.label, origin: c.label, format: table.key.includes(c.name) ? { grouping: false } : {} }));
  return {
    ...found,
    source: { alias: own, table, ...(query ? { query } : {}) },
    joins: [probe],
    conditions: [{ id: MATCHED, expr: negated({ node: "found", alias: MATCHED, column: "k0", type: yesno }), label: "" }],
    grouped: false,
    columns,
    tieBreak: table.key.map((name) => keyExpr(own, table, name)),
  };
}

/** The name of the rows that something matches. */
const MATCHED = "rows with a match";
