import type { Expr } from "../expression/expr";
import type { JoinWay } from "../query/choices";
import { groupKeys as groupKeysOf } from "../query/groupKeys";
import { countsOnce } from "../query/home";
import { JOIN_WAYS, keepsFar } from "../query/joinWays";
import { everyOf, lateConditions, type Plan, type PlanColumn, type PlanCondition, type PlanJoin, uncut } from "../query/plan";
import type { Evaluate, Tuple } from "../recount/evaluator";
import { Groups } from "../recount/groups";
import { inGroups, ownValues, type ReadTable, Recount, recountLines, recountRows } from "../recount/recount";
import { cellOfValue, keyOfValues, type Row, type Value } from "../recount/value";
import { judgeLines, type Placed } from "../recount/windows";
import { type Cell, isExact } from "../types/valueType";
import { Adder } from "./adder";
import { minus } from "./followed";
import { partJoins } from "./parts";

/*
 * The account of a query's rows: the rows of its source are counted through its conditions and joins, one by one, with
 * the figure that is followed. It is made by the recount, not by the query's own SQL.
 *
 * Tables led to by links to one do not change which rows there are, so conditions on them are counted on the source's
 * rows ("flat"). A join that leads to many multiplies rows; conditions on what it brings are counted after it.
 */

/** Rows, and what the chosen figure comes to over them; null where the figure is not there (yet). */
export type Amount = { rows: number; figure: Cell };

export type ProofStep =
  | { kind: "condition"; id: string; label: string /** what the rows are like that are left out */; words?: string; leftOut: Amount }
  | { kind: "kept"; amount: Amount }
  /** Groups that do not meet a condition on them, or on their lines, with their rows. */
  | { kind: "groups"; id: string; label: string; words?: string; groups: number; leftOut: Amount }
  | {
      kind: "join";
      id: string;
      label: string;
      leadsTo: "one" | "many";
      way: JoinWay;
      found: Amount;
      missing: Amount;
      /** Rows of the joined table that no row matches, where they come in. */
      added: Amount | null;
      /** How many rows of the joined table no row matches, where they stay out. */
      unmatched: number;
      repeated: Amount;
      /** How many rows stand more than once by this join, and how often the one that stands most often. */
      often: number;
      times: number;
    };

/** A column whose rows a link repeats: each row of its home once, every row of the sheet, and how many rows its home has here. */
export type Repeats = { once: Cell; every: Cell; rows: number | null };

/** A total, and by how much another way of adding may differ: 0 where numbers are exact. */
export type Total = { value: Cell; within: number };

/** What the recount comes to. */
export type Account = {
  source: Amount;
  steps: ProofStep[];
  accounted: Amount;
  /** The groups that the rows make; null where they are not grouped. */
  groups: number | null;
  /** The total of every column that is added up, by its id, over all rows. */
  totals: Record<string, Total>;
  repeats: Record<string, Repeats>;
};

const isPlainTotal = (c: PlanColumn): boolean => c.expr !== null && (!c.figure || c.figure === "total");

/**
 * Makes the account of a plan's rows, before its limit.
 * @param figure the column that is followed (see proofColumn); null counts rows only
 * @param read the tables' rows, plainly
 */
export function accountOf(plan: Plan, figure: PlanColumn | null, read: ReadTable): Account {
  const parts = partJoins(plan);
  const recount = new Recount(plan, read);
  const keysOf = (c: PlanColumn) => (c.home?.repeated && c.home.keys ? recount.evaluateAll(c.home.keys) : null);
  const followed = figure?.expr ? { expr: figure.expr, value: recount.evaluate(figure.expr), keys: countsOnce(figure) ? keysOf(figure) : null } : null;
  const test = (c: PlanCondition) => ({ ...c, holds: recount.evaluate(c.expr) });
  const exact = figure?.expr ? isExact(figure.expr.type) : true;
  const within = (aliases: Set<string>, expr: Expr | null) => expr !== null && parts.within(expr, aliases);
  const adder = (aliases: Set<string>) => new Adder(followed && within(aliases, followed.expr) ? followed.value : null, followed?.keys ?? null);
  const amount = (a: Adder): Amount => ({ rows: a.rows, figure: a.sum(exact) });
  // What is counted once leaves a step with the last of its rows: the step left out what was there before and is not after.
  const less = (before: Adder, after: Adder): Cell => minus(before.sum(exact), after.sum(exact), exact);
  const once = followed?.keys != null;

  const flatTests = parts.flatConditions.map((c) => ({ ...test(c), out: adder(parts.flat), after: adder(parts.flat) }));
  const joinStages = new Map(
    plan.joins
      .filter((j) => !j.auxiliary)
      .map((j): [string, JoinStage] => {
        const before = parts.flat.has(j.alias) ? parts.flat : aliasesBefore(plan, j, parts.flat);
        const after = new Set([...before, j.alias]);
        // A row that finds one at most is counted with what it finds.
        const seen = j.leadsTo === "one" ? after : before;
        return [
          j.alias,
          {
            found: adder(seen),
            missing: adder(seen),
            added: adder(after),
            before: adder(seen),
            repeated: adder(before),
            often: 0,
            times: 0,
            matched: new Set(),
          },
        ];
      }),
  );
  const later = laterStages(plan, parts).map((stage) => ({
    ...stage,
    tests: stage.conditions.map((c) => ({ ...test(c), out: adder(stage.scope), after: adder(stage.scope) })),
    start: adder(stage.scope),
  }));
  const source = adder(parts.flat);
  const kept = adder(parts.flat);
  const everything = new Set([plan.source.alias, ...plan.joins.map((j) => j.alias)]);
  const end = adder(everything);
  const groupKeys = plan.grouped ? recount.evaluateAll(groupKeysOf(plan)) : null;
  const groups = new Set<unknown>();
  const totalled = plan.columns.filter((c) => c.totalled).map((c) => totalling(c, recount, keysOf(c)));
  const anew = plan.columns.filter((c) => c.foot);
  const feet = new Groups(
    recount,
    [],
    anew.map((c) => c.foot as Expr),
  );
  const verdicts = groupVerdicts(plan, read);
  const atLines = adder(everything);
  const lateTests = lateConditions(plan).map((c) => ({ ...c, out: adder(everything), after: adder(everything), failed: new Set<unknown>() }));
  const held = groupKeys || lateTests.length === 0 ? null : new HeldLines(plan, recount);
  const isOfGroups = inGroups(plan, recount, read);

  const joined = recount.joined();
  const flatJoins = joined.filter((s) => parts.flat.has(s.join.alias));
  const laterJoins = joined.filter((s) => !parts.flat.has(s.join.alias));

  /** Whether a row's group or line meets the conditions on those; else it is counted with the first that it does not meet. */
  const isShown = (tuple: Tuple, group: unknown, verdict: number): boolean => {
    atLines.add(tuple);
    const failed = lateTests[verdict];
    for (const test of failed ? lateTests.slice(0, verdict) : lateTests) test.after.add(tuple);
    failed?.out.add(tuple);
    failed?.failed.add(group);
    return failed === undefined;
  };
  const finish = (tuple: Tuple): void => {
    if (held) return held.add(tuple);
    const group = groupKeys ? keyOfValues(groupKeys(tuple)) : null;
    arrive(tuple, group, verdicts.get(group) ?? -1);
  };
  const arrive = (tuple: Tuple, group: unknown, verdict: number): void => {
    if (lateTests.length > 0 && !isShown(tuple, group, verdict)) return;
    end.add(tuple);
    if (groupKeys) groups.add(group);
    for (const t of totalled) t.add(tuple);
    if (anew.length > 0) feet.add(tuple);
  };
  const passes = (tests: (typeof flatTests)[number][], tuple: Tuple): boolean => {
    for (const { holds, out, after } of tests) {
      if (holds(tuple) !== true) {
        out.add(tuple);
        return false;
      }
      after.add(tuple);
    }
    return true;
  };
  const goOn = (at: number, tuple: Tuple): void => {
    const stage = later.find((s) => s.last === laterJoins[at]?.join.alias);
    if (stage) {
      stage.start.add(tuple);
      if (!passes(stage.tests, tuple)) return;
    }
    goLater(at + 1, tuple);
  };
  const goLater = (at: number, tuple: Tuple): void => {
    const step = laterJoins[at];
    if (!step) return isOfGroups(tuple) ? finish(tuple) : undefined;
    const on = (): void => goOn(at, tuple);
    const found = step.matches(tuple);
    const seen = joinStages.get(step.join.alias);
    for (const row of found) seen?.matched.add(row);
    if (step.join.leadsTo === "one") tuple[step.slot] = found[0] ?? null;
    seen?.before.add(tuple);
    if (found.length > 0) {
      seen?.found.add(tuple);
      if (seen && found.length > 1) {
        seen.repeated.add(tuple, found.length - 1);
        seen.often++;
      }
      if (seen) seen.times = Math.max(seen.times, found.length);
    } else seen?.missing.add(tuple);
    if (found.length === 0 && JOIN_WAYS[step.join.way].keepsNear) {
      tuple[step.slot] = null;
      on();
    }
    for (const row of found) {
      tuple[step.slot] = row;
      on();
    }
    tuple[step.slot] = null;
  };
  const tuple: Tuple = new Array(1 + plan.joins.length).fill(null);
  for (const row of recount.source()) {
    tuple.fill(null);
    tuple[0] = row;
    for (const step of flatJoins) tuple[step.slot] = step.matches(tuple)[0] ?? null;
    source.add(tuple);
    if (!passes(flatTests, tuple)) continue;
    kept.add(tuple);
    if (flatJoins.every((step) => flatJoin(step, tuple))) goLater(0, tuple);
  }

  // Rows that no row matches come in behind, with nothing of the tables before them.
  laterJoins.forEach((step, at) => {
    const seen = joinStages.get(step.join.alias);
    if (!keepsFar(step.join.way) || !seen) return;
    for (const row of step.rows()) {
      if (seen.matched.has(row)) continue;
      tuple.fill(null);
      tuple[step.slot] = row;
      seen.added.add(tuple);
      goOn(at, tuple);
    }
  });

  held?.each((line, verdict) => arrive(line, null, verdict));

  function flatJoin({ join, slot }: (typeof flatJoins)[number], at: Tuple): boolean {
    const seen = joinStages.get(join.alias);
    if (!seen) return true;
    seen.before.add(at);
    const row = at[slot] ?? null;
    if (row === null) seen.missing.add(at);
    else seen.found.add(at);
    if (row !== null) seen.matched.add(row);
    return at[slot] !== null || JOIN_WAYS[join.way].keepsNear;
  }

  const conditionStep = ({ id, label, leftOut: words, out }: PlanCondition & { out: Adder }, before: Adder, after: Adder): ProofStep => ({
    kind: "condition",
    id,
    label,
    ...(words === undefined ? {} : { words }),
    leftOut: { rows: out.rows, figure: once ? less(before, after) : out.sum(exact) },
  });
  const chained = (tests: typeof flatTests, first: Adder): ProofStep[] => tests.map((t, i) => conditionStep(t, tests[i - 1]?.after ?? first, t.after));
  const joinStep = (join: PlanJoin): ProofStep[] => {
    const seen = joinStages.get(join.alias);
    if (!seen) return [];
    const missing = { rows: seen.missing.rows, figure: once ? less(seen.before, seen.found) : seen.missing.sum(exact) };
    const none = followed && within(parts.flat, followed.expr) ? 0 : null;
    const repeated = { rows: seen.repeated.rows, figure: once ? none : (seen.repeated.sum(exact) ?? none) };
    const { id, path, leadsTo, way } = join;
    const added = keepsFar(way) ? amount(seen.added) : null;
    const unmatched = added ? 0 : (joined.find((s) => s.join === join)?.count ?? 0) - seen.matched.size;
    const label = path.join(" › ");
    return [
      {
        kind: "join",
        id,
        label,
        leadsTo,
        way,
        found: amount(seen.found),
        missing,
        added,
        unmatched,
        repeated,
        often: seen.often,
        times: Math.max(1, seen.times),
      },
    ];
  };
  const laterSteps = laterJoins.flatMap(({ join }) => {
    const stage = later.find((s) => s.last === join.alias);
    return [...joinStep(join), ...(stage ? chained(stage.tests, stage.start) : [])];
  });
  const lateSteps = lateTests.map((test, i): ProofStep => {
    const step = conditionStep(test, lateTests[i - 1]?.after ?? atLines, test.after);
    return groupKeys && step.kind === "condition" ? { ...step, kind: "groups", groups: test.failed.size } : step;
  });
  // Where there is nothing to group by, all rows are one group, unless that is left out.
  const isOneGroup = groupKeys !== null && !plan.columns.some((c) => !c.figure && c.expr);
  // Groups that no row makes are found by no row: all groups are made once more, and counted.
  const madeAnew = everyOf(plan).length > 0 ? recountRows(uncut(plan), read).length : null;
  const groupCount =
    madeAnew !== null ? madeAnew : isOneGroup ? (verdicts.size > 0 && [...verdicts.values()].every((v) => v >= 0) ? 0 : 1) : groupKeys && groups.size;
  const [footings = []] = [...feet.all()].map((g) => g.values);
  return {
    source: amount(source),
    steps: [...chained(flatTests, source), { kind: "kept", amount: amount(kept) }, ...flatJoins.flatMap((s) => joinStep(s.join)), ...laterSteps, ...lateSteps],
    accounted: amount(end),
    groups: groupCount,
    totals: Object.fromEntries([...totalled.map((t) => [t.column.id, t.total(groupCount)]), ...anew.map((c, i) => [c.id, footingOf(footings[i] ?? null)])]),
    repeats: Object.fromEntries(totalled.flatMap((t) => (t.column.home?.repeated && isPlainTotal(t.column) ? [[t.column.id, t.repeats()]] : []))),
  };
}

/** A footing that was worked out anew. Floating figures of one size may differ by how they were added. */
const footingOf = (value: Value): Total => ({ value: cellOfValue(value), within: typeof value === "number" ? Math.abs(value) * WORKED_OUT_WITHIN : 0 });

/** The share of a floating figure by which two ways of working it out may differ. */
const WORKED_OUT_WITHIN = 1e-9;

/** By the key of each group, the place of the first condition on groups and lines that it does not meet; -1 where it meets all. */
function groupVerdicts(plan: Plan, read: ReadTable): Map<unknown, number> {
  if (!plan.grouped || lateConditions(plan).length === 0) return new Map();
  return new Map(recountLines(uncut(plan), read).map(({ key, failed }) => [key, failed]));
}

/** Rows that are lines of a sheet themselves: conditions on those are told when all of them are there. */
class HeldLines {
  private readonly tuples: Tuple[] = [];
  private readonly lines: (Placed & { failed: number })[] = [];
  private readonly values: (tuple: Tuple) => Value[];
  private readonly ties: (tuple: Tuple) => Value[];

  constructor(
    private readonly plan: Plan,
    recount: Recount,
  ) {
    this.values = recount.evaluateAll(ownValues(plan));
    this.ties = recount.evaluateAll(plan.tieBreak);
  }

  add(tuple: Tuple): void {
    this.tuples.push([...tuple]);
    this.lines.push({ row: this.values(tuple), ties: this.ties(tuple), failed: -1 });
  }

  each(use: (tuple: Tuple, verdict: number) => void): void {
    judgeLines(this.plan, this.lines);
    this.tuples.forEach((tuple, i) => use(tuple, this.lines[i]?.failed ?? -1));
  }
}

/** What a join finds, misses and repeats among the rows as they stand before it. */
type JoinStage = { found: Adder; missing: Adder; added: Adder; before: Adder; repeated: Adder; often: number; times: number; matched: Set<Row> };

/** The aliases there are before a later join, with what derived fields bring from them. */
function aliasesBefore(plan: Plan, join: PlanJoin, flat: Set<string>): Set<string> {
  const at = plan.joins.indexOf(join);
  return new Set([...flat, ...plan.joins.slice(0, at).map((j) => j.alias)]);
}

/** After which later join the conditions stand that it was the last to make possible. */
function laterStages(plan: Pick<Plan, "joins">, parts: ReturnType<typeof partJoins>): { last: string; scope: Set<string>; conditions: PlanCondition[] }[] {
  const scope = new Set(parts.flat);
  let waiting = parts.laterConditions;
  const stages: { last: string; scope: Set<string>; conditions: PlanCondition[] }[] = [];
  for (const join of parts.laterJoins) {
    // What derived fields bring from it stands right behind it.
    const brought = parts.withDerived(join).map((j) => j.alias);
    for (const alias of brought) scope.add(alias);
    const ready = parts.readyAfter(join, waiting, scope);
    waiting = waiting.filter((c) => !ready.includes(c));
    const last = plan.joins.filter((j) => brought.includes(j.alias)).at(-1)?.alias ?? join.alias;
    if (ready.length > 0) stages.push({ last, scope: new Set(scope), conditions: ready });
  }
  return stages;
}

/** A column that is added up, over all rows: by its own rule, and where its rows are repeated, both ways. */
function totalling(column: PlanColumn, recount: Recount, keys: ((tuple: Tuple) => Value[]) | null) {
  const value = column.expr ? recount.evaluate(column.expr) : () => 1n;
  const counted: Evaluate = column.figure === "count" ? (tuple) => (value(tuple) === null ? null : 1n) : value;
  const every = new Adder(counted, null);
  const once = keys && isPlainTotal(column) ? new Adder(counted, keys) : null;
  const exact = isExact(column.type);
  return {
    column,
    add(tuple: Tuple): void {
      every.add(tuple);
      once?.add(tuple);
    },
    /** @param groups how many groups there are: a count of none is 0 in each of them */
    total(groups: number | null): Total {
      const adder = once && countsOnce(column) ? once : every;
      return { value: adder.sum(exact) ?? (column.figure === "count" && groups ? 0 : null), within: exact ? 0 : adder.within };
    },
    repeats: (): Repeats => ({ once: once?.sum(exact) ?? null, every: every.sum(exact), rows: once?.different ?? null }),
  };
}
