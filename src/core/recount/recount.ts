import { type Expr, figureWhere, literal, storedAsText, withFigures } from "../expression/expr";
import { groupKeys } from "../query/groupKeys";
import { figureOfRollup, valueOfColumn } from "../query/home";
import { JOIN_WAYS, keepsFar, PRESENT } from "../query/joinWays";
import type { Plan, PlanJoin, PlanStack } from "../query/plan";
import type { Table } from "../schema/schema";
import type { Storage } from "../types/storage";
import type { ValueType } from "../types/valueType";
import { type Evaluate, evaluator, type Tuple } from "./evaluator";
import { fillGroups } from "./everyGroup";
import { Groups } from "./groups";
import { indexed, lookup, sidesOf } from "./lookup";
import { keyOfValues, type Row, type Value } from "./value";
import { comparing, firstOfEach, judgeLines, type Placed } from "./windows";

/*
 * The recount works a plan out a second time without a database's joins, conditions and sums:
 *
 *   rows of each table, read plainly ─▶ joined by loops ─▶ conditions ─▶ figures
 *
 * Nothing of query/compile.ts or of a dialect's SQL stands in it, so that a proof made with it shares no way with the
 * figures it proves. Only how a stored value is read as its type is the reader's, as for every other reading.
 */

/** A column asked of a table: as its type says; or as it is stored, plainly or as a text. */
export type ReadColumn = { column: string; type: ValueType; storage: Storage; guarded: boolean } | { column: string; stored: "plain" | "text" };

/** Reads columns of a table's rows, all of them, in the order asked for; what rules leave out is left out here. */
export type ReadTable = (table: string, columns: ReadColumn[]) => Iterable<Row>;

type From = Pick<Plan, "source" | "joins">;
type Matches = (tuple: Tuple) => Row[];
/** Of a joined table: the rows that match a row, all of them where those are held, and how many there are. */
type Found = { matches: Matches; rows: () => Row[]; count: number };
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
  stored(alias: string, column: string, as: "plain" | "text" = "plain"): Evaluate {
    const [slot, at] = [this.slot(alias), this.place(alias, { column, stored: as })];
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
      const misread = storedAsText(leaf);
      if (misread && leaf.node === "call") {
        const [fits, stored] = [this.evaluate(misread), this.stored(misread.alias, misread.column, "text")];
        const text = evaluator<Value>(leaf, (part) => (part === misread ? (value) => value : null));
        return (tuple) => text(fits(tuple)) ?? stored(tuple);
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
    const far = join.on.map((c) => this.place(join.alias, { column: c.far, stored: "plain" }));
    return () => {
      // All rows are held only where those that nothing matches come in.
      const read = counting(this.rows(join.table, this.columnsOf(join.alias)));
      const rows = keepsFar(join.way) ? [...read.rows] : read.rows;
      const matches = lookup(rows, join.on, near, (row, i) => row[far[i] ?? 0] ?? null);
      return { matches, rows: () => (Array.isArray(rows) ? rows : []), count: read.count() };
    };
  }

  /** A table brought by comparisons: found by what is compared as the same on either side, then by all of them. */
  private compared(join: PlanJoin, when: Expr[]): () => Found {
    const slot = this.slot(join.alias);
    const holds = when.map((expr) => this.evaluate(expr));
    const same = when.flatMap((expr) => sidesOf(expr, join.alias)).map(({ near, far }) => ({ near: this.evaluate(near), far: this.evaluate(far) }));
    return () => {
      const rows = [...this.joinedRows(join)];
      const probe: Tuple = [];
      const find = indexed(rows, (row) => {
        probe[slot] = row;
        return same.map((s) => s.far(probe));
      });
      const matches: Matches = (tuple) => {
        const at = [...tuple];
        return find(same.map((s) => s.near(tuple))).filter((row) => {
          at[slot] = row;
          return holds.every((test) => test(at) === true);
        });
      };
      return { matches, rows: () => rows, count: rows.length };
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
    const inner = new Recount(
      { source: { alias, table: join.table, ...(join.query ? { query: join.query } : {}) }, joins },
      this.read,
      pairs ? [pairs.alias] : [],
    );
    const far = join.on.map((c) => inner.stored(alias, c.far));
    // What a condition asks of a figure is in the figure: rows it does not hold for are empty there.
    const exprs = figures.map((f) => withFigures(figureOfRollup(f), (figure) => figureWhere(figure, f.where)));
    const group = new Groups(inner, [], exprs);
    const near = join.on.map((c) => this.stored(join.from, c.near));
    const when = pairs?.when ?? [];
    const holds = when.map((expr) => inner.evaluate(expr));
    const same = when.flatMap((expr) => sidesOf(expr, alias)).map((s) => ({ near: inner.evaluate(s.near), far: inner.evaluate(s.far) }));
    const outer = pairs ? inner.columnsOf(pairs.alias) : [];
    const slot = this.slot(join.from);
    const places = outer.map((column) => this.place(join.from, column));
    return () => {
      const figureAt = this.columnsOf(join.alias).map((c) => figures.findIndex((f) => f.name === c.column));
      const all: Tuple[] = [];
      inner.each((tuple) => void all.push([...tuple]));
      const linked = lookup(all, join.on, near, (tuple, i) => far[i]?.(tuple) ?? null);
      const alike = indexed(all, (tuple) => same.map((s) => s.far(tuple)));
      const given = (row: Row, t: Tuple): Tuple => (pairs ? Object.assign([...t], { [inner.slot(pairs.alias)]: row }) : t);
      /** Of the rows of the table those that belong to a row: along the link, or by comparisons. */
      const found = (tuple: Tuple, row: Row): Tuple[] => {
        if (when.length === 0) return linked(tuple).map((t) => given(row, t));
        const candidates = alike(same.map((s) => s.near(given(row, []))));
        return candidates.map((t) => given(row, t)).filter((t) => holds.every((test) => test(t) === true));
      };
      const known = new Map<unknown, Row[]>();
      const matches: Matches = (tuple) => {
        if (tuple[slot] === null) return [];
        const asked = places.map((at) => tuple[slot]?.[at] ?? null);
        const key = keyOfValues([...near.map((n) => n(tuple)), ...asked]);
        const before = known.get(key);
        if (before) return before;
        const matching = found(tuple, asked);
        group.clear();
        for (const t of matching) group.add(t);
        const [row = []] = [...group.all()].map((g) => g.values);
        const rows = matching.length === 0 ? [] : [figureAt.map((at) => row[at] ?? null)];
        known.set(key, rows);
        return rows;
      };
      return { matches, rows: () => [], count: 0 };
    };
  }
}

/** Rows as they are, and how many have been read. */
function counting(all: Iterable<Row>): { rows: Iterable<Row>; count: () => number } {
  let read = 0;
  function* rows(): Iterable<Row> {
    for (const row of all) {
      read++;
      yield row;
    }
  }
  return { rows: rows(), count: () => read };
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

/** What a plan's columns are made of: of those worked out from the rows beside, nothing yet. */
export const ownValues = ({ columns }: Plan): Expr[] => columns.map((c) => (c.window ? EMPTY : valueOfColumn(c)));

/** A line of a plan, a group's by the key of what it is made by; `failed` is the place of the first of its late conditions that it does not meet, -1 where it meets all. */
type Line = Placed & { key: unknown; failed: number };

/** The lines of a plan before its order and its cut, those among them that its conditions on groups and lines leave out. */
export function recountLines(plan: Plan, read: ReadTable): Line[] {
  const recount = new Recount(plan, read);
  const holds = plan.conditions.map((c) => recount.evaluate(c.expr));
  const ties = recount.evaluateAll(plan.tieBreak);
  const lines: Line[] = [];
  const keys = groupKeys(plan);
  const own = ownValues(plan);
  const asked = [...plan.groupConditions.map((c) => c.expr), ...own];
  const groups = plan.grouped ? new Groups(recount, keys, asked) : null;
  const values = plan.grouped ? null : recount.evaluateAll(own);
  const isShown = inGroups(plan, recount, read);
  recount.each((tuple) => {
    if (holds.some((test) => test(tuple) !== true) || !isShown(tuple)) return;
    if (groups) groups.add(tuple);
    else if (values) lines.push({ row: values(tuple), ties: ties(tuple), key: null, failed: -1 });
  });
  if (groups) fillGroups(plan, groups, (other) => recountRows(other, read));
  for (const group of groups?.all() ?? []) {
    const conditions = group.values.splice(0, plan.groupConditions.length);
    lines.push({ row: group.values, ties: group.keys, key: group.key, failed: conditions.findIndex((c) => c !== true) });
  }
  judgeLines(
    plan,
    lines.filter((l) => l.failed < 0),
  );
  return lines;
}

/** All rows of a plan, in its order and within its limit, by its columns. */
export function recountRows(plan: Plan, read: ReadTable): Row[] {
  const met = recountLines(plan, read).filter((l) => l.failed < 0);
  const shown = firstOfEach(plan, met).sort(comparing(plan, plan.order));
  const rows = shown.map((k) => k.row);
  return plan.limit === null ? rows : rows.slice(0, plan.limit);
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
