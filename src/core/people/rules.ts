import { fieldsOf, literal } from "../expression/expr";
import type { Plan } from "../query/plan";
import { resolveQuery } from "../query/resolve";
import type { QuerySpec } from "../query/spec";
import { findTable, type Schema, type Table } from "../schema/schema";
import type { Today } from "../types/calendar";
import { yesno } from "../types/valueType";
import type { Asker, RuleSpec } from "./spec";

/*
 * Rules on rows. A table under a rule carries the plan of the rows that may be seen; the compiler writes those rows
 * wherever it would write the table (query/compile.ts), so that no query, figure, page or export gets round it.
 */

const isFor = ({ who }: RuleSpec, asker: Asker): boolean => asker.role !== "owner" && (who.kind === "role" ? who.role === asker.role : who.person === asker.id);

/** The rules that bind a person, by table. */
export function rulesFor(rules: RuleSpec[], asker: Asker): Map<string, RuleSpec[]> {
  const bound = new Map<string, RuleSpec[]>();
  for (const rule of rules.filter((r) => isFor(r, asker))) bound.set(rule.query.source, [...(bound.get(rule.query.source) ?? []), rule]);
  return bound;
}

/** A rule as a query of its table's rows: its conditions, over tables that links to one bring and that keep every row. */
const ruleQuery = (rule: RuleSpec, table: Table): QuerySpec => ({
  ...rule.query,
  joins: rule.query.joins.map((join) => ({ ...join, way: "keep" })),
  grouped: false,
  columns: [{ id: "rule", value: { kind: "field", join: "", column: table.columns.find((c) => !c.derived)?.name ?? "" } }],
  order: [],
  limit: null,
  // A parameter left empty would drop its condition: rules have none.
  parameters: [],
  controls: [],
});

/** The plan of a rule's rows. One that cannot be resolved, or that would repeat rows, lets no row through. */
function planRule(rule: RuleSpec, table: Table, schema: Schema, context: { today: Today; person: string }): Plan {
  const resolved = resolveQuery(ruleQuery(rule, table), schema, { ...context, values: {} });
  if (resolved.ok && resolved.value.joins.every((j) => j.leadsTo === "one" || j.auxiliary)) return resolved.value;
  return { ...nothing(table), source: { alias: table.name, table } };
}

const nothing = (table: Table): Plan => ({
  source: { alias: table.name, table },
  joins: [],
  conditions: [{ id: "none", label: "none", expr: literal("0", yesno) }],
  grouped: false,
  groupConditions: [],
  columns: [],
  order: [],
  tieBreak: [],
  limit: null,
  firstOf: null,
  parameters: [],
});

/**
 * A schema as one person sees it: the tables that rules bind carry the rows that may be seen. Several rules on a table
 * must all hold.
 * @param schema with derived fields, without rules: a rule's own conditions look at all rows
 */
export function withRules(schema: Schema, rules: RuleSpec[], asker: Asker, today: Today): Schema {
  const bound = rulesFor(rules, asker);
  if (bound.size === 0) return schema;
  const context = { today, person: asker.knownAs };
  return {
    ...schema,
    tables: schema.tables.map((table) => {
      const plans = (bound.get(table.name) ?? []).map((rule) => planRule(rule, table, schema, context));
      return plans.length === 0 ? table : { ...table, rules: plans };
    }),
  };
}

/** A schema for a browser: which tables are seen in part is told, by which rule is not, nor how many rows there are. */
export const shownSchema = (schema: Schema): Schema => ({
  ...schema,
  tables: schema.tables.map(({ rules, ...table }) => (rules ? { ...table, rows: 0, partial: true } : table)),
});

/** The tables a plan reads of which the person sees some rows only. */
export function partialTables(plan: Plan): string[] {
  const tables = [plan.source.table, ...plan.joins.map((j) => j.table)];
  const { query, stack } = plan.source;
  const inner = [...(query ? [query] : []), ...(stack?.parts ?? [])].flatMap(partialTables);
  return [...new Set([...tables.filter((t) => t.rules || t.partial).map((t) => t.label), ...inner])];
}

/** By which columns the rules that bind a person decide, by table; `brought` where a rule brings the table, so that its rows decide too. */
export function columnsRead(schema: Schema): Map<string, { columns: Set<string>; brought: boolean }> {
  const read = new Map<string, { columns: Set<string>; brought: boolean }>();
  const at = (table: string) => {
    const known = read.get(table) ?? { columns: new Set<string>(), brought: false };
    read.set(table, known);
    return known;
  };
  for (const { source, joins, conditions } of schema.tables.flatMap((t) => t.rules ?? [])) {
    const tableOf = (alias: string) => joins.find((j) => j.alias === alias)?.table.name ?? source.table.name;
    for (const { alias, column } of conditions.flatMap((c) => fieldsOf(c.expr))) at(tableOf(alias)).columns.add(column);
    for (const join of joins) {
      at(join.table.name).brought = true;
      for (const { near, far } of join.on) {
        at(tableOf(join.from)).columns.add(near);
        at(join.table.name).columns.add(far);
      }
    }
  }
  return read;
}

/** Whether a table is whole to the person whose schema this is. */
export const isWhole = (schema: Schema, table: string): boolean => !findTable(schema, table)?.rules;
