import type { Expr } from "../expression/expr";
import { countsOnce } from "../query/home";
import { JOIN_WAYS, keepsFar } from "../query/joinWays";
import type { Plan, PlanJoin } from "../query/plan";
import type { LinkComparison, LinkOperator, Table } from "../schema/schema";
import type { Storage } from "../types/storage";
import { fold } from "../types/text";
import type { ValueType } from "../types/valueType";
import { figureOver, inOrder } from "./figures";
import { OPERATIONS, periodOf } from "./operations";
import { boundValue, compareValues, keyOfValues, type Row, type Value } from "./value";

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

/** One row of each table, by place; null where a join found none. */
export type Tuple = (Row | null)[];
export type Evaluate = (tuple: Tuple) => Value;

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
    switch (expr.node) {
      case "field": {
        const { alias, column, type, storage, guarded } = expr;
        const [slot, at] = [this.slot(alias), this.place(alias, { column, type, storage, guarded })];
        return (tuple) => tuple[slot]?.[at] ?? null;
      }
      case "found": {
        const value = this.stored(expr.alias, expr.column);
        return (tuple) => value(tuple) !== null;
      }
      case "literal": {
        const value = boundValue(expr.value, expr.type);
        return () => value;
      }
      case "period": {
        const of = this.evaluate(expr.of);
        return (tuple) => periodOf(of(tuple), expr.part);
      }
      case "call": {
        const args = expr.args.map((arg) => this.evaluate(arg));
        const types = { of: expr.type, args: expr.args.map((arg) => arg.type) };
        const operation = OPERATIONS[expr.fn];
        return (tuple) =>
          operation(
            args.map((arg) => arg(tuple)),
            types,
          );
      }
      default:
        return expr satisfies never;
    }
  }

  evaluateAll = (exprs: Expr[]): ((tuple: Tuple) => Value[]) => {
    const made = exprs.map((e) => this.evaluate(e));
    return (tuple) => made.map((evaluate) => evaluate(tuple));
  };

  /** The rows of the source, before anything is joined to them. */
  *source(): Iterable<Row> {
    const { table, query, alias } = this.from.source;
    const columns = this.columnsOf(alias);
    if (!query) return yield* this.rows(table, columns);
    const places = columns.map((c) => query.columns.findIndex((q) => q.id === c.column));
    for (const row of recountRows(query, this.read)) yield places.map((at) => row[at] ?? null);
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
    const near = join.on.map((c) => this.stored(join.from, c.near));
    const far = join.on.map((c) => this.place(join.alias, { column: c.far, stored: true }));
    return () => {
      // All rows are held only where those that nothing matches come in.
      const read = this.rows(join.table, this.columnsOf(join.alias));
      const rows = keepsFar(join.way) ? [...read] : read;
      return { matches: lookup(rows, join.on, near, (row, i) => row[far[i] ?? 0] ?? null), rows: () => (Array.isArray(rows) ? rows : []) };
    };
  }

  /** The figures of a rollup for a row, worked out once for all rows that are compared alike. */
  private rollup(join: PlanJoin): () => Found {
    const { alias, joins, figures, pairs } = join.rollup as NonNullable<PlanJoin["rollup"]>;
    const inner = new Recount({ source: { alias, table: join.table }, joins }, this.read, pairs ? [pairs.alias] : []);
    const far = join.on.map((c) => inner.stored(alias, c.far));
    const made = figures.map((f) => ({
      ...f,
      value: f.expr ? inner.evaluate(f.expr) : () => 1n,
      order: f.by ? inner.evaluate(f.by) : () => null,
      holds: f.where.map((w) => inner.evaluate(w)),
      told: f.keys ? inner.evaluateAll(f.keys) : null,
    }));
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
        const row = made.map((f) => {
          const items = found
            .filter((t) => f.holds.every((test) => test(t) === true))
            .map((t) => ({ value: f.value(t), by: f.order(t), keys: f.told?.(t) ?? null }));
          return figureOver(f.figure, items, f.expr?.type ?? { kind: "whole" }, f);
        });
        const rows = found.length === 0 ? [] : [figureAt.map((at) => row[at] ?? null)];
        known.set(key, rows);
        return rows;
      };
      return { matches, rows: () => [] };
    };
  }
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

/** All rows of a plan, in its order and within its limit, by its columns. */
export function recountRows(plan: Plan, read: ReadTable): Row[] {
  const recount = new Recount(plan, read);
  const holds = plan.conditions.map((c) => recount.evaluate(c.expr));
  const columns = plan.columns.map((c) => ({
    ...c,
    value: c.expr ? recount.evaluate(c.expr) : () => 1n,
    order: c.by ? recount.evaluate(c.by) : () => null,
    told: c.figure === "total" && countsOnce(c) ? recount.evaluateAll(c.home?.keys ?? []) : null,
  }));
  const ties = recount.evaluateAll(plan.tieBreak);
  type Kept = { row: Row; ties: Row };
  const kept: Kept[] = [];
  const groups = new Map<unknown, { keys: Row; items: { value: Value; by: Value; keys: Row | null }[][] }>();
  const keyColumns = columns.filter((c) => !c.figure && c.expr);
  const figures = columns.filter((c) => c.figure || !c.expr);
  if (plan.grouped && keyColumns.length === 0) groups.set(keyOfValues([]), { keys: [], items: figures.map(() => []) });
  recount.each((tuple) => {
    if (holds.some((test) => test(tuple) !== true)) return;
    if (!plan.grouped) return void kept.push({ row: columns.map((c) => c.value(tuple)), ties: ties(tuple) });
    const keys = keyColumns.map((c) => c.value(tuple));
    const key = keyOfValues(keys);
    const group = groups.get(key) ?? { keys, items: figures.map(() => []) };
    groups.set(key, group);
    figures.forEach((c, i) => group.items[i]?.push({ value: c.value(tuple), by: c.order(tuple), keys: c.told?.(tuple) ?? null }));
  });
  for (const { keys, items } of groups.values()) {
    const row = columns.map((c) => {
      if (keyColumns.includes(c)) return keys[keyColumns.indexOf(c)] ?? null;
      const own = items[figures.indexOf(c)] ?? [];
      return figureOver(c.figure ?? "count", own, c.expr?.type ?? { kind: "whole" }, { direction: c.direction ?? "up", separator: c.separator ?? ", " });
    });
    kept.push({ row, ties: keys });
  }
  kept.sort(comparing(plan));
  const rows = kept.map((k) => k.row);
  return plan.limit === null ? rows : rows.slice(0, plan.limit);
}

function comparing(plan: Plan): (a: { row: Row; ties: Row }, b: { row: Row; ties: Row }) => number {
  const terms = plan.order.flatMap(({ column, direction }) => {
    const at = plan.columns.findIndex((c) => c.id === column);
    return at < 0 ? [] : [{ at, direction, text: plan.columns[at]?.type.kind === "text" }];
  });
  const folded = (v: Value) => (typeof v === "string" ? fold(v) : v);
  return (a, b) => {
    for (const { at, direction, text } of terms) {
      const [x, y] = [a.row[at] ?? null, b.row[at] ?? null];
      const order = (text ? inOrder(folded(x), folded(y), direction) : 0) || inOrder(x, y, direction);
      if (order !== 0) return order;
    }
    for (let i = 0; i < a.ties.length; i++) {
      const order = inOrder(a.ties[i] ?? null, b.ties[i] ?? null, "up");
      if (order !== 0) return order;
    }
    return 0;
  };
}
