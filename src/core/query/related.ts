import { type Column, findColumn, findTable, type Schema } from "../schema/schema";
import { type ValueType, whole } from "../types/valueType";
import { AGGREGATES, figureWords } from "./aggregates";
import type { AggregateName } from "./choices";
import { comparisonsIn, conditionLists, conditionOperands, mapComparisons } from "./conditions";
import { emptyQuery } from "./empty";
import { isLinked } from "./joinWays";
import type { ConditionTree, Join, LinkedJoin, Operand, QueryColumn, QuerySpec, RelatedFigure, Value } from "./spec";

/*
 * A figure over related rows, beside each row: what joining them would repeat is totalled first.
 */

/** The end of the link that a figure's rows come from. */
const farOf = ({ link, toward }: RelatedFigure["step"], schema: Schema) => schema.links.find((l) => l.id === link)?.[toward];

/** The question a figure asks of its rows. */
export function queryOfRelated({ step, figure, column, where = [], joins = [] }: Omit<RelatedFigure, "kind" | "join" | "words">, schema: Schema): QuerySpec {
  const value: Operand | null = column === null ? null : { kind: "field", join: "", column };
  return { ...emptyQuery(farOf(step, schema)?.table ?? ""), grouped: true, joins, columns: [{ id: "value", value, figure }], conditions: where };
}

/** What a description asks of related rows, figure by figure. */
export const relatedConditions = ({ columns }: Pick<QuerySpec, "columns">): ConditionTree[][] =>
  columns.flatMap(({ value }) => (value?.kind === "related" && value.where ? [value.where] : []));

/** A description with what it asks of related rows changed. */
export const mapRelated = (spec: QuerySpec, change: (conditions: ConditionTree[]) => ConditionTree[]): QuerySpec => ({
  ...spec,
  columns: spec.columns.map((c) => (c.value?.kind === "related" && c.value.where ? { ...c, value: { ...c.value, where: change(c.value.where) } } : c)),
});

/** A figure as a column of the table it is for, worked out as a rollup is. */
export function relatedColumn(operand: RelatedFigure, schema: Schema): Column {
  const definition = { kind: "rollup" as const, step: operand.step, query: queryOfRelated(operand, schema) };
  const { words } = operand;
  return {
    name: words,
    label: words,
    type: relatedType(operand, schema) ?? whole,
    storage: "plain",
    nullable: true,
    misfits: 0,
    derived: { definition, words },
  };
}

/** The type a figure comes to; undefined where its column is gone. */
export function relatedType({ step, figure, column }: RelatedFigure, schema: Schema): ValueType | undefined {
  if (column === null) return whole;
  const table = findTable(schema, farOf(step, schema)?.table ?? "");
  const type = table && findColumn(table, column)?.type;
  return type && AGGREGATES[figure].gives(type);
}

/** A figure over related rows, with what it is called: "total of surcharges › amount", "count of surcharges". */
export function relatedFigure(join: string, step: RelatedFigure["step"], figure: AggregateName, column: string | null, schema: Schema): RelatedFigure {
  const far = farOf(step, schema);
  const table = findTable(schema, far?.table ?? "");
  const label = column === null ? null : ((table && findColumn(table, column)?.label) ?? column);
  const rows = far?.name ?? "related rows";
  return { kind: "related", join, step, figure, column, words: `${figureWords(figure)} of ${label === null ? rows : `${rows} › ${label}`}` };
}

/** What a column of a joined table becomes where its rows are totalled first; null where it cannot be. */
function totalledFirst({ where, by, ...column }: QueryColumn, join: LinkedJoin, grouped: boolean, schema: Schema): QueryColumn | null {
  const { value, figure } = column;
  if (value?.kind !== "field" || value.part || value.band || value.limits || value.letters || where?.length || by) return null;
  const made = (inner: AggregateName) => relatedFigure(join.from, { link: join.link, toward: join.toward }, inner, value.column, schema);
  const table = findTable(schema, farOf(join, schema)?.table ?? "");
  const type = table && findColumn(table, value.column)?.type;
  if (!grouped) return figure ? null : { ...column, value: made(type && AGGREGATES.total.takes(type) ? "total" : "list") };
  if (figure === "total" || figure === "count") return { ...column, figure: "total", value: made(figure) };
  return null;
}

const ofJoin = (operand: Operand | Value | null, id: string): boolean => operand?.kind === "field" && operand.join === id;

/**
 * A description in which a table that repeats rows is totalled first: a figure of its rows stands beside each row, in
 * place of the rows themselves. Who has none is left out only where they were before.
 * @returns null where what is read of the table cannot be totalled: groups by it, averages, tables joined from it
 */
export function totalFirst(spec: QuerySpec, schema: Schema, id: string): QuerySpec | null {
  const join = spec.joins.find((j): j is LinkedJoin => j.id === id && isLinked(j) && (j.way === "keep" || j.way === "only"));
  if (!join || spec.joins.some((j) => j.from === id)) return null;
  const reads = (c: QueryColumn): boolean =>
    ofJoin(c.value, id) ||
    ofJoin(c.by ?? null, id) ||
    comparisonsIn(c.where ?? [])
      .flatMap(conditionOperands)
      .some((o) => ofJoin(o, id));
  const columns = spec.columns.map((c) => (reads(c) ? totalledFirst(c, join, spec.grouped, schema) : c));
  if (columns.includes(null) || !spec.columns.some(reads)) return null;
  const asking = [
    ...conditionLists(spec)
      .flatMap(comparisonsIn)
      .map((c) => c.left),
    ...spec.columns.map((c) => c.value),
  ];
  const name = farOf(join, schema)?.name.toLowerCase() ?? "";
  if (asking.some((o) => o?.kind === "formula" && o.text.toLowerCase().replaceAll("_", " ").includes(name))) return null;
  const isOwn = (c: ConditionTree) =>
    comparisonsIn([c])
      .flatMap(conditionOperands)
      .every((o) => ofJoin(o, id));
  const own = spec.conditions.filter(isOwn);
  const rest = { ...spec, columns: columns.filter((c) => c !== null), conditions: spec.conditions.filter((c) => !isOwn(c)) };
  const others = [...rest.conditions, ...rest.joins.flatMap((j) => (j.id === id ? [] : isLinked(j) ? (j.where ?? []) : j.on))];
  if (
    comparisonsIn(others)
      .flatMap(conditionOperands)
      .some((o) => ofJoin(o, id))
  )
    return null;
  const within = <V extends Operand | Value>(v: V): V => (v.kind === "field" && v.join === id ? { ...v, join: "" } : v);
  const where = mapComparisons(own, (c) => ({ ...c, left: within(c.left), values: c.values.map(within) }));
  const asked = (value: QueryColumn["value"]) => (value?.kind === "related" && where.length > 0 ? { ...value, where } : value);
  const kept: Join[] = join.way === "only" || own.length > 0 ? [{ ...join, way: "has", ...(own.length > 0 ? { where: own } : {}) }] : [];
  return {
    ...rest,
    columns: rest.columns.map((c, i) => (columns[i] === spec.columns[i] ? c : { ...c, value: asked(c.value) })),
    joins: spec.joins.flatMap((j) => (j.id === id ? kept : [j])),
  };
}
