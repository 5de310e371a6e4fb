import { aliasesOf, type Expr, figureWhere, literal, withFigures } from "../expression/expr";
import { groupKeys } from "../query/groupKeys";
import { figureOfRollup, valueOfColumn } from "../query/home";
import { JOIN_WAYS, keepsFar, PRESENT } from "../query/joinWays";
import { everyOf, type Plan, type PlanEvery, type PlanJoin, type PlanStack } from "../query/plan";
import type { LinkComparison, LinkOperator, Table } from "../schema/schema";
import type { Storage } from "../types/storage";
import type { ValueType } from "../types/valueType";
import { type Evaluate, evaluator, type Tuple } from "./evaluator";
import { Groups } from "./groups";
import { compareValues, keyOfValues, type Row, type Value } from "./value";
import { comparing, fillWindows, firstOfEach, type Placed } from "./windows";

/*
 * The recount works a plan out a second time without a database's joins, conditions and sums:
 *
 *   rows of each table, read plainly ─▶ joined by loops ─▶ conditions ─▶ figures
 *
 * Nothing of query/compile.ts or of a dialect's SQL stands in it, so that a proof made with it shares no way with the
 * figures it proves. Only how a stored value is read as its type is the reader's, as for every other reading.
 */

/** A column asked of a table: as its type says, or as it is stored. */
export type ReadColumn = { column: string; type: ValueType; storage: Storage; guarded: boolean } | { column: string; stored: true };

/** Reads columns of a table's rows, all of them, in the order asked for; what rules leave out is left out here. */
export type ReadTable = (table: string, columns: ReadColumn[]) => Iterable<Row>;

type From = Pick<Plan, "source" | "joins">;
type Matches = (tuple: Tuple) => Row[];
type Found = { matches: Matches; rows: () => Row[] };
export type JoinedStep = Found & { join: PlanJoin; slot: number };

export class Recount {
  private readonly slots: string[];
  private readonly asked = new Map<string, ReadColumn[]>();
  private readonly joins: { join: PlanJoin; slot: number; found: () => Found }[];

  /** @param given aliases of rows that come from elsewhere: the row a rollup is counted for */
  constructor(
    private readonly from: From,
    private readonly read: ReadTable,
    given: string[] = [],
  ) {
    this.slots = [from.source.alias, ...from.joins.map((j) => j.alias), ...given];
    this.joins = from.joins.map((join) => ({ join, slot: this.slot(join.alias), found: join.rollup ? this.rollup(join) : this.table(join) }));
  }

  slot(alias: string): number {
    const at = this.slots.indexOf(alias);
    if (at < 0) throw new TypeError(`no table ${alias} among these rows`);
    return at;
  }

  /** The place of a column in the rows of a table; it is read from now on. */
  private place(alias: string, column: ReadColumn): number {
    const columns = this.asked.get(alias) ?? [];
    this.asked.set(alias, columns);
    const key = JSON.stringify(column);
    const known = columns.findIndex((c) => JSON.stringify(c) === key);
    return known >= 0 ? known : columns.push(column) - 1;
  }

  /** The columns that are read of a table, in their places. */
  columnsOf(alias: string): ReadColumn[] {
    return this.asked.get(alias) ?? [];
  }

  /** How a column's value is found, as it is stored. */
  stored(alias: string, column: string): Evaluate {
    const [slot, at] = [this.slot(alias), this.place(alias, { column, stored: true })];
    return (tuple) => tuple[slot]?.[at] ?? null;
  }

  /** An expression as a function of the rows. All are made before the first row is read. */
  evaluate(expr: Expr): Evaluate {
    return evaluator<Tuple>(expr, (leaf) => {
      if (leaf.node === "field") {
        const { alias, column, type, storage, guarded } = leaf;
        const [slot, at] = [this.slot(alias), this.place(alias, { column, type, storage, guarded })];
        return (tuple) => tuple[slot]?.[at] ?? null;
      }
      if (leaf.node !== "found") return null;
      if (leaf.column === PRESENT) {
        const slot = this.slot(leaf.alias);
        return (tuple) => tuple[slot] != null;
      }
      const value = this.stored(leaf.alias, leaf.column);
      return (tuple) => value(tuple) !== null;
    });
  }

  evaluateAll = (exprs: Expr[]): ((tuple: Tuple) => Value[]) => {
    const made = exprs.map((e) => this.evaluate(e));
    return (tuple) => made.map((evaluate) => evaluate(tuple));
  };

  /** The rows of the source, before anything is joined to them. */
  *source(): Iterable<Row> {
    const { table, query, stack, alias } = this.from.source;
    const columns = this.columnsOf(alias);
    const made = query ? recountRows(query, this.read) : stack ? recountStack(stack, this.read) : null;
    if (!made) return yield* this.rows(table, columns);
    const own = (query ?? stack?.parts[0])?.columns ?? [];
    const places = columns.map((c) => own.findIndex((q) => q.id === c.column));
    for (const row of made) yield places.map((at) => row[at] ?? null);
  }

  /** Runs through the rows as the joins make them. The tuple handed out is used again for the next. */
  each(use: (tuple: Tuple) => void): void {
    const steps = this.joined();
    const tuple: Tuple = new Array(this.slots.length).fill(null);
    const matched = steps.map(() => new Set<Row>());
    const go = (at: number): void => {
      const step = steps[at];
      if (!step) return use(tuple);
      const found = step.matches(tuple);
      if (found.length === 0 && JOIN_WAYS[step.join.way].keepsNear) {
        tuple[step.slot] = null;
        go(at + 1);
      }
      for (const row of found) {
        if (keepsFar(step.join.way)) matched[at]?.add(row);
        tuple[step.slot] = row;
        go(at + 1);
      }
    };
    for (const row of this.source()) {
      tuple[0] = row;
      go(0);
    }
    // Rows that no row matches come in behind, with nothing of the tables before them.
    steps.forEach((step, at) => {
      if (!keepsFar(step.join.way)) return;
      for (const row of step.rows()) {
        if (matched[at]?.has(row)) continue;
        tuple.fill(null);
        tuple[step.slot] = row;
        go(at + 1);
      }
    });
  }

  /** The joins in their order, ready to be looked into; `rows` are all of a joined table, the same ones that match. */
  joined(): JoinedStep[] {
    return this.joins.map(({ join, slot, found }) => ({ join, slot, ...found() }));
  }

  /** A table's rows; where rules bind the person who asks, those that all of them let through. */
  private rows({ name, rules = [] }: Table, columns: ReadColumn[]): Iterable<Row> {
    const rulings = rules.map((rule) => ruling(rule, this.read));
    const all = this.read(name, [...columns, ...rulings.flatMap((r) => r.columns)]);
    return rulings.reduce((rows, rule) => letThrough(rows, rule, columns.length), all);
  }

  /** A table brought by a join, found by what is compared as the same, then by the other comparisons. */
  private table(join: PlanJoin): () => Found {
    if (join.when) return this.compared(join, join.when);
    const near = join.on.map((c) => this.stored(join.from, c.near));
    const far = join.on.map((c) => this.place(join.alias, { column: c.far, stored: true }));
    return () => {
      // All rows are held only where those that nothing matches come in.
      const read = this.rows(join.table, this.columnsOf(join.alias));
      const rows = keepsFar(join.way) ? [...read] : read;
      return { matches: lookup(rows, join.on, near, (row, i) => row[far[i] ?? 0] ?? null), rows: () => (Array.isArray(rows) ? rows : []) };
    };
  }

  /** A table brought by comparisons: found by what is compared as the same on either side, then by all of them. */
  private compared(join: PlanJoin, when: Expr[]): () => Found {
    const slot = this.slot(join.alias);
    const holds = when.map((expr) => this.evaluate(expr));
    const same = when.flatMap((expr) => sidesOf(expr, join.alias)).map(({ near, far }) => ({ near: this.evaluate(near), far: this.evaluate(far) }));
    return () => {
      const rows = [...this.joinedRows(join)];
      const index = new Map<unknown, Row[]>();
      const probe: Tuple = [];
      for (const row of rows) {
        probe[slot] = row;
        const values = same.map((s) => s.far(probe));
        if (values.includes(null)) continue;
        const key = keyOfValues(values);
        const held = index.get(key);
        if (held) held.push(row);
        else index.set(key, [row]);
      }
      const matches: Matches = (tuple) => {
        const values = same.map((s) => s.near(tuple));
        if (values.includes(null)) return [];
        const at = [...tuple];
        return (index.get(keyOfValues(values)) ?? []).filter((row) => {
          at[slot] = row;
          return holds.every((test) => test(at) === true);
        });
      };
      return { matches, rows: () => rows };
    };
  }

  /** The rows of a table that is joined: its own, or those of the saved query it stands for. */
  private joinedRows({ query, table, alias }: PlanJoin): Iterable<Row> {
    const columns = this.columnsOf(alias);
    if (!query) return this.rows(table, columns);
    const places = columns.map((c) => query.columns.findIndex((q) => q.id === c.column));
    return recountRows(query, this.read).map((row) => places.map((at) => row[at] ?? null));
  }

  /** The figures of a rollup for a row, worked out once for all rows that are compared alike. */
  private rollup(join: PlanJoin): () => Found {
    const { alias, joins, figures, pairs } = join.rollup as NonNullable<PlanJoin["rollup"]>;
    const inner = new Recount({ source: { alias, table: join.table }, joins }, this.read, pairs ? [pairs.alias] : []);
    const far = join.on.map((c) => inner.stored(alias, c.far));
    // What a condition asks of a figure is in the figure: rows it does not hold for are empty there.
    const exprs = figures.map((f) => withFigures(figureOfRollup(f), (figure) => figureWhere(figure, f.where)));
    const group = new Groups(inner, [], exprs);
    const near = join.on.map((c) => this.stored(join.from, c.near));
    const outer = pairs ? inner.columnsOf(pairs.alias) : [];
    const slot = this.slot(join.from);
    const places = outer.map((column) => this.place(join.from, column));
    return () => {
      const figureAt = this.columnsOf(join.alias).map((c) => figures.findIndex((f) => f.name === c.column));
      const all: Tuple[] = [];
      inner.each((tuple) => void all.push([...tuple]));
      const find = lookup(all, join.on, near, (tuple, i) => far[i]?.(tuple) ?? null);
      const known = new Map<unknown, Row[]>();
      const matches: Matches = (tuple) => {
        if (tuple[slot] === null) return [];
        const given = places.map((at) => tuple[slot]?.[at] ?? null);
        const key = keyOfValues([...near.map((n) => n(tuple)), ...given]);
        const before = known.get(key);
        if (before) return before;
        const found = find(tuple).map((t) => (pairs ? Object.assign([...t], { [inner.slot(pairs.alias)]: given }) : t));
        group.clear();
        for (const t of found) group.add(t);
        const [row = []] = [...group.all()].map((g) => g.values);
        const rows = found.length === 0 ? [] : [figureAt.map((at) => row[at] ?? null)];
        known.set(key, rows);
        return rows;
      };
      return { matches, rows: () => [] };
    };
  }
}

/** What an equality compares of a joined table with what stands before it; none where it is not one of the two. */
function sidesOf(expr: Expr, alias: string): { near: Expr; far: Expr }[] {
  if (expr.node !== "call" || expr.fn !== "is") return [];
  const [a, b] = expr.args as [Expr, Expr];
  const isFar = (e: Expr) => aliasesOf(e).size === 1 && aliasesOf(e).has(alias);
  const isNear = (e: Expr) => !aliasesOf(e).has(alias);
  if (isFar(a) && isNear(b)) return [{ near: b, far: a }];
  return isFar(b) && isNear(a) ? [{ near: a, far: b }] : [];
}

type Ruling = { recount: Recount; columns: ReadColumn[]; holds: Evaluate[] };

function ruling({ source, joins, conditions }: Plan, read: ReadTable): Ruling {
  const recount = new Recount({ source: { ...source, table: { ...source.table, rules: undefined } }, joins }, read);
  const holds = conditions.map((c) => recount.evaluate(c.expr));
  return { recount, columns: recount.columnsOf(source.alias), holds };
}

/** The rows a rule lets through, without the columns that it alone asked for. @param at where those stand */
function* letThrough(rows: Iterable<Row>, { recount, columns, holds }: Ruling, at: number): Iterable<Row> {
  const steps = recount.joined();
  for (const row of rows) {
    const tuple: Tuple = [row.slice(at, at + columns.length)];
    for (const step of steps) tuple[step.slot] = step.matches(tuple)[0] ?? null;
    if (holds.every((test) => test(tuple) === true)) yield [...row.slice(0, at), ...row.slice(at + columns.length)];
  }
}

const HOLDS: Record<LinkOperator, (order: number) => boolean> = {
  is: (o) => o === 0,
  isNot: (o) => o !== 0,
  less: (o) => o < 0,
  atMost: (o) => o <= 0,
  greater: (o) => o > 0,
  atLeast: (o) => o >= 0,
};

/** Rows by what a link compares; an empty value is the same as none. */
function lookup<T>(rows: Iterable<T>, on: LinkComparison[], near: Evaluate[], far: (row: T, comparison: number) => Value): (tuple: Tuple) => T[] {
  const same = on.flatMap((c, i) => (c.operator === "is" ? [i] : []));
  const other = on.flatMap((c, i) => (c.operator === "is" ? [] : [i]));
  const index = new Map<unknown, T[]>();
  for (const row of rows) {
    const values = same.map((i) => far(row, i));
    if (values.includes(null)) continue;
    const key = keyOfValues(values);
    const held = index.get(key);
    if (held) held.push(row);
    else index.set(key, [row]);
  }
  return (tuple) => {
    const values = same.map((i) => near[i]?.(tuple) ?? null);
    if (values.includes(null)) return [];
    const found = index.get(keyOfValues(values)) ?? [];
    if (other.length === 0) return found;
    return found.filter((row) =>
      other.every((i) => {
        const [a, b] = [near[i]?.(tuple) ?? null, far(row, i)];
        return a !== null && b !== null && HOLDS[on[i]?.operator ?? "is"](compareLinked(a, b));
      }),
    );
  };
}

/** Numbers stand before texts, as databases without fixed types have it. */
const compareLinked = (a: Value, b: Value): number =>
  (typeof a === "string") === (typeof b === "string") ? compareValues(a, b) : typeof a === "string" ? 1 : -1;

/** The rows of several plans put together. */
function recountStack({ how, parts }: PlanStack, read: ReadTable): Row[] {
  const [first = [], ...rest] = parts.map((part) => recountRows(part, read));
  if (how === "all") return [first, ...rest].flat();
  const keyed = (rows: Row[]) => new Map(rows.map((row) => [keyOfValues(row), row]));
  if (how === "different") return [...keyed([first, ...rest].flat()).values()];
  const others = rest.map((rows) => keyed(rows));
  const stays = (key: unknown) => (how === "both" ? others.every((rows) => rows.has(key)) : !others.some((rows) => rows.has(key)));
  return [...keyed(first)].filter(([key]) => stays(key)).map(([, row]) => row);
}

/** What stands in a row until the rows beside it are there. */
const EMPTY = literal(null, { kind: "whole" });

/** All rows of a plan, in its order and within its limit, by its columns. */
export function recountRows(plan: Plan, read: ReadTable): Row[] {
  const recount = new Recount(plan, read);
  const holds = plan.conditions.map((c) => recount.evaluate(c.expr));
  const ties = recount.evaluateAll(plan.tieBreak);
  const kept: Placed[] = [];
  const keys = groupKeys(plan);
  const own = plan.columns.map((c) => (c.window ? EMPTY : valueOfColumn(c)));
  const asked = [...plan.groupConditions.map((c) => c.expr), ...own];
  const groups = plan.grouped ? new Groups(recount, keys, asked) : null;
  const values = plan.grouped ? null : recount.evaluateAll(own);
  const isShown = inGroups(plan, recount, read);
  recount.each((tuple) => {
    if (holds.some((test) => test(tuple) !== true) || !isShown(tuple)) return;
    if (groups) groups.add(tuple);
    else if (values) kept.push({ row: values(tuple), ties: ties(tuple) });
  });
  if (groups) fillGroups(plan, groups, read);
  for (const group of groups?.all() ?? []) {
    const conditions = group.values.splice(0, plan.groupConditions.length);
    if (conditions.every((c) => c === true)) kept.push({ row: group.values, ties: group.keys });
  }
  fillWindows(plan, kept);
  const shown = firstOfEach(plan, kept).sort(comparing(plan, plan.order));
  const rows = shown.map((k) => k.row);
  return plan.limit === null ? rows : rows.slice(0, plan.limit);
}

/** Makes the groups that no row makes, where a plan shows those: every value of their keys beside those of the other keys that rows have. */
function fillGroups(plan: Plan, groups: Groups, read: ReadTable): void {
  const every = everyOf(plan);
  if (every.length === 0) return;
  const keys = plan.columns.filter((c) => !c.figure && c.expr).map((c) => c.id);
  const made = groups.made();
  const placesOf = (ids: string[]) => ids.map((id) => keys.indexOf(id));
  const filled = every.map((e) => ({ places: placesOf(e.columns), values: valuesOf(e, made, keys, read).filter((row) => !row.includes(null)) }));
  const rest = keys.map((_, at) => at).filter((at) => !filled.some((f) => f.places.includes(at)));
  const others = new Map(made.map((row) => [keyOfValues(rest.map((at) => row[at] ?? null)), row]));
  const starts: Row[] = rest.length > 0 ? [...others.values()] : [keys.map(() => null)];
  const fill = (row: Row, at: number): void => {
    const next = filled[at];
    if (!next) return groups.ensure(row);
    for (const values of next.values) {
      const filledRow = [...row];
      next.places.forEach((place, i) => {
        filledRow[place] = values[i] ?? null;
      });
      fill(filledRow, at + 1);
    }
  };
  for (const start of starts) fill(start, 0);
}

/** The values that some keys have in any case. @param made the keys of the groups that rows make */
function valuesOf(every: PlanEvery, made: Row[], keys: string[], read: ReadTable): Row[] {
  const alone = (expr: Expr) => evaluator<Value>(expr, (leaf) => (leaf.node === "field" ? (value) => value : null));
  switch (every.kind) {
    case "rows": {
      const places = every.columns.map((id) => every.rows.columns.findIndex((c) => c.id === id));
      return recountRows(every.rows, read).map((row) => places.map((at) => row[at] ?? null));
    }
    case "listed":
      return every.values.map((value) => [alone(value)(null)]);
    case "steps": {
      const known = made.map((row) => row[keys.indexOf(every.of)] ?? null).filter((v) => v !== null);
      const sorted = known.sort(compareValues);
      const [least, greatest] = [sorted[0], sorted.at(-1)];
      const [next, values] = [alone(every.next), every.values.map(alone)];
      const rows: Row[] = [];
      for (let at: Value = least ?? null; at !== null && greatest !== undefined && compareValues(at, greatest) <= 0; at = next(at))
        rows.push(values.map((v) => v(at)));
      return rows;
    }
    default:
      return every satisfies never;
  }
}

/** Whether a row falls into a group of the plan that rows have to be of. */
export function inGroups({ ofGroups }: Plan, recount: Recount, read: ReadTable): (tuple: Tuple) => boolean {
  if (!ofGroups) return () => true;
  const keyOf = recount.evaluateAll(groupKeys(ofGroups));
  const places = ofGroups.columns.flatMap((c, i) => (!c.figure && c.expr ? [i] : []));
  let shown: Set<unknown> | null = null;
  return (tuple) => {
    shown ??= new Set(recountRows(ofGroups, read).map((row) => keyOfValues(places.map((at) => row[at] ?? null))));
    return shown.has(keyOfValues(keyOf(tuple)));
  };
}
