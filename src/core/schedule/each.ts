import type { FilterValues } from "../dashboard/spec";
import { writtenOut } from "../posting/coerce";
import { type RunContext, sameName } from "../query/operands";
import { overRows, resolveOver } from "../query/over";
import type { Plan } from "../query/plan";
import { resolveQuery } from "../query/resolve";
import type { Condition, ParameterValues, QueryColumn, QuerySpec } from "../query/spec";
import type { Schema } from "../schema/schema";
import { cellWriter, type Locale } from "../types/format";
import { type Checked, type Problem, problem } from "../types/problem";
import { type Cell, isMisfit, type ValueType } from "../types/valueType";
import type { EachMatch, EachSpec } from "./eachSpec";
import { messageProblem } from "./message";

/*
 * The list of what a subject is made for, one after the other:
 *
 *   its own query, or another ─▶ one line for each, with what narrows the subject, its name, its address ─▶ items
 */

/** What a subject can be narrowed by. */
export type NarrowedBy = { query: QuerySpec | null; filters: { id: string; label: string }[] };

export type EachPlan = {
  plan: Plan;
  spec: EachSpec;
  /** Places of what narrows the subject, in the order of the matches. */
  match: number[];
  fileName: number | null;
  to: number | null;
  /** Places of what messages may name, by heading. */
  words: Record<string, number>;
};

/** One of those a subject is made for. */
export type EachItem = {
  /** Tells it from the others, in every run alike. */
  key: string;
  words: string;
  /** What narrows the subject, in the order of the matches; null is empty. */
  values: (string | null)[];
  fileName: string;
  to: string;
  /** What is wrong with the address, in a sentence; null where it can be sent to or none is asked for, "" where there is none. */
  wrong: string | null;
  /** What messages may name, by heading in small letters. */
  named: Record<string, string>;
};

/**
 * Plans the list of what a subject is made for.
 * @param narrowed what the subject is narrowed by: its query, or the filters of a dashboard
 * @param other the query whose rows there is one for; null for values of the subject's own
 */
export function planEach(spec: EachSpec, narrowed: NarrowedBy, other: QuerySpec | null, schema: Schema, context: RunContext): Checked<EachPlan> {
  const listed = other ?? narrowed.query;
  if (!listed) return { ok: false, problems: [problem("eachNoList", ["each", "query"])] };
  const inner = resolveQuery(listed, schema, context);
  if (!inner.ok) return inner;
  const shown = inner.value.columns.filter((c) => !c.orders && !c.hidden);
  const problems: Problem[] = spec.match.flatMap(({ from, to }, i) => {
    const gone = inner.value.columns.some((c) => c.id === from) ? [] : [problem("eachColumnGone", ["each", "match", i], { column: from })];
    return [...gone, ...unmet(to, narrowed, i)];
  });
  if (spec.to !== null && !inner.value.columns.some((c) => c.id === spec.to)) problems.push(problem("eachColumnGone", ["each", "to"], { column: spec.to }));
  if (problems.length > 0) return { ok: false, problems };
  const field = (column: string) => ({ kind: "field" as const, join: "", column });
  const grouped = other === null;
  const keys = spec.match.map((m, i): QueryColumn => ({ id: `match ${i}`, value: field(m.from) }));
  // Of values of its own query, what stands beside them is that of one of their rows.
  const beside = (id: string, value: QueryColumn["value"]): QueryColumn => ({ id, value, ...(grouped ? { figure: "least" as const } : {}) });
  const columns: QueryColumn[] = [...keys];
  const add = (column: QueryColumn): number => columns.push(column) - 1;
  const fileName = spec.fileName.trim() === "" ? null : add(beside("file", { kind: "formula", text: spec.fileName }));
  const to = spec.to === null ? null : add(beside("to", field(spec.to)));
  const words = Object.fromEntries(
    shown.flatMap((c) => (c.type.kind === "yesno" ? [] : [[c.heading.toLowerCase(), add(beside(`word ${c.id}`, field(c.id)))]])),
  );
  const order = grouped ? keys.map((k) => ({ column: k.id, direction: "up" as const })) : [];
  const ordered = grouped ? [] : inner.value.order.map(({ column, direction }, i) => ({ column, direction, id: `order ${i}` }));
  for (const o of ordered) add({ id: o.id, value: field(o.column), hidden: true });
  const resolved = resolveOver(
    {
      ...overRows(),
      grouped,
      columns,
      order: grouped ? order : ordered.map((o) => ({ column: o.id, direction: o.direction })),
      parameters: listed.parameters,
    },
    inner.value,
    context,
  );
  if (!resolved.ok)
    return {
      ok: false,
      problems: resolved.problems.map((p) => ({ ...p, path: ["each", ...(p.path[0] === "columns" && p.path[1] === fileName ? ["fileName"] : p.path)] })),
    };
  return { ok: true, value: { plan: resolved.value, spec, match: keys.map((_, i) => i), fileName, to, words } };
}

/** What narrows a subject and is not there any more: without it, each would get the whole. */
function unmet(to: EachMatch["to"], { query, filters }: NarrowedBy, at: number): Problem[] {
  const path = ["each", "match", at];
  switch (to.kind) {
    case "column":
      return query?.columns.some((c) => c.id === to.column) ? [] : [problem("eachColumnGone", path, { column: to.column })];
    case "parameter":
      return query?.parameters.some((p) => sameName(p.name, to.name)) ? [] : [problem("eachParameterGone", path, { name: to.name })];
    case "filter":
      return filters.some((f) => f.id === to.filter) ? [] : [problem("eachFilterGone", path)];
    default:
      return to satisfies never;
  }
}

/** An address as it is in a cell: what is wrong with it, if anything. A list of addresses is no address. */
function addressProblem(to: string): string | null {
  if (to === "") return "";
  if (/[\r\n]/.test(to)) return "The address has a line break in it. Write one address on one line.";
  if (/[,;]/.test(to)) return "There is more than one address. Write one.";
  return messageProblem({ to: [to], subject: "-" });
}

/** The items of a list, of the rows of its plan. Two of the same key are one, named by the first. */
export function itemsOf({ plan, match, fileName, to, words }: EachPlan, rows: Iterable<Cell[]>, locale: Locale): EachItem[] {
  const found = new Map<string, EachItem>();
  const names = new Set<string>();
  const writers = plan.columns.map((c) => cellWriter(c.type, c.format, locale));
  const plain = (cell: Cell, type: ValueType): string | null => (cell === null || isMisfit(cell) ? null : writtenOut(cell, type));
  for (const row of rows) {
    const values = match.map((at) => plain(row[at] ?? null, plan.columns[at]?.type ?? { kind: "text" }));
    const key = JSON.stringify(values);
    if (found.has(key)) continue;
    const said = match.map((at) => writers[at]?.(row[at] ?? null).text || "(empty)").join(", ");
    const named = fileName === null ? "" : (writers[fileName]?.(row[fileName] ?? null).text.trim() ?? "");
    const address = to === null ? "" : String(plain(row[to] ?? null, plan.columns[to]?.type ?? { kind: "text" }) ?? "").trim();
    found.set(key, {
      key,
      words: said,
      values,
      fileName: uniqueName(named || said, names),
      to: address,
      wrong: to === null ? null : addressProblem(address),
      named: Object.fromEntries(Object.entries(words).map(([name, at]) => [name, writers[at]?.(row[at] ?? null).text ?? ""])),
    });
  }
  return [...found.values()];
}

function uniqueName(name: string, taken: Set<string>): string {
  for (let n = 1; ; n++) {
    const own = n === 1 ? name : `${name} (${n})`;
    if (taken.has(own.toLowerCase())) continue;
    taken.add(own.toLowerCase());
    return own;
  }
}

/** A subject kept to one item: its query where it has one, the values of parameters and of filters it is given. */
export type Narrowed<Q extends QuerySpec | null> = { query: Q; values: ParameterValues; filters: FilterValues };

/**
 * Keeps a subject to one item of its list.
 * @param query the subject's own; null where it has none, or where only the values are wanted
 */
export function narrowTo<Q extends QuerySpec | null>(spec: EachSpec, item: Pick<EachItem, "values">, query: Q): Narrowed<Q> {
  const values: ParameterValues = {};
  const filters: FilterValues = {};
  const conditions: Condition[] = [];
  spec.match.forEach(({ to }, i) => {
    const value = item.values[i] ?? null;
    if (to.kind === "parameter") values[to.name] = value ?? "";
    else if (to.kind === "filter") filters[to.filter] = { kind: "set", not: false, values: [value ?? ""] };
    else {
      const left = query?.columns.find((c) => c.id === to.column)?.value;
      if (!left) return;
      const one = { id: `each ${i}`, left };
      conditions.push(value === null ? { ...one, operator: "empty", values: [] } : { ...one, operator: "is", values: [{ kind: "value", text: value }] });
    }
  });
  return { query: query && { ...query, conditions: [...query.conditions, ...conditions] }, values, filters };
}

/** Whether an item has no value for a filter: a filter that asks for nothing shows everything, which is not meant for it. */
export const isUnfiltered = (spec: EachSpec, item: Pick<EachItem, "values">): boolean =>
  spec.match.some(({ to }, i) => to.kind === "filter" && (item.values[i] ?? "") === "");

/** The columns of a query that a subject can be narrowed by: those with a value of their own in each row. */
export const narrowingColumns = (query: QuerySpec): string[] =>
  query.columns.flatMap((c) => (!c.figure && (c.value?.kind === "field" || c.value?.kind === "formula") ? [c.id] : []));
