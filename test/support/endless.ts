import type { Plan, PlanJoin, Table } from "@/core/query/plan";
import { whole } from "@/core/types/valueType";

/** A count that no machine comes to the end of: each row of a table with each, four times over. */
export function endless(table: Table): Plan {
  const join = (alias: string): PlanJoin => ({ id: alias, alias, from: "a", table, path: [alias], leadsTo: "many", back: "many", way: "only", on: [] });
  const count = { id: "n", expr: null, figure: "count" as const, type: whole, heading: "", origin: "", hidden: false, format: {}, totalled: false };
  return {
    source: { alias: "a", table },
    joins: ["b", "c", "d"].map(join),
    conditions: [],
    grouped: true,
    groupConditions: [],
    columns: [count],
    order: [],
    tieBreak: [],
    limit: null,
    firstOf: null,
    parameters: [],
  };
}
