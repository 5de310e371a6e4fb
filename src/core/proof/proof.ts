import { type Expr, isTrue } from "../expression/expr";
import { neededJoins, type Sql, SqlWriter } from "../query/compile";
import { type Dialect, quoted } from "../query/dialect/dialect";
import type { Plan, PlanColumn, PlanCondition, PlanJoin } from "../query/plan";
import { type Cell, type ValueType, whole } from "../types/valueType";
import { countsOf, foundExpr, kept, MATCHES, partJoins } from "./parts";

/*
 * A proof is the account of how the rows and a chosen figure came about:
 *
 *   source → left out by each condition, in the brief's order → kept → found, missing, repeated at each join → in the sheet
 *
 * Tables led to by links to one do not change which rows there are, so conditions on them can be counted on the
 * source's rows ("flat" below). A join that leads to many multiplies rows; conditions on what it brings are counted
 * after it. The last line is counted on the query as it is compiled, not derived from the lines above; the account
 * agrees only where both come to the same.
 */

/** Rows, and what the chosen figure comes to over them; null where the figure is not there (yet). */
export type Amount = { rows: number; figure: Cell };

export type ProofStep =
  | { kind: "condition"; id: string; label: string; leftOut: Amount }
  | { kind: "kept"; amount: Amount }
  | {
      kind: "join";
      id: string;
      label: string;
      leadsTo: "one" | "many";
      unmatched: "keep" | "only";
      found: Amount;
      missing: Amount;
      repeated: Amount;
      /** The most often one row is repeated by this join. */
      times: number;
    };

export type Proof = {
  source: Amount;
  steps: ProofStep[];
  /** What the account comes to, and what the query itself counts: they must agree. */
  accounted: Amount;
  sheet: Amount;
  groups: number | null;
  agrees: boolean;
  figure: { heading: string; type: ValueType; column: string } | null;
};

/** Which rows of an account to open. */
export type ProofPick = { part: "source" | "kept" | "sheet" } | { part: "leftOut"; id: string } | { part: "found" | "missing" | "repeated"; id: string };

/** The SQL a proof needs, run in one transaction, and the sum that makes the proof of the results. */
export type ProofPlan = { queries: Sql[]; assemble: (results: Cell[][]) => Proof };

/** The column whose figure the proof follows: the one chosen, else the first whose values add up. */
export function proofColumn(plan: Plan, chosen?: string): PlanColumn | null {
  const adds = (c: PlanColumn) => c.expr !== null && c.totalled && (!c.figure || c.figure === "total");
  return plan.columns.find((c) => c.id === chosen && adds(c)) ?? plan.columns.find((c) => adds(c) && !c.hidden) ?? plan.columns.find(adds) ?? null;
}

/** The columns a proof can follow. */
export const proofColumns = (plan: Plan): PlanColumn[] => plan.columns.filter((c) => c.expr !== null && c.totalled && (!c.figure || c.figure === "total"));

type Filter = { expr: Expr };
type Stage = { sql: Sql; read: (row: Cell[]) => void };

/**
 * Plans the account of a query's rows and of one figure.
 * @param figure the column to follow (see proofColumn); null counts rows only
 */
export function planProof(plan: Plan, figure: PlanColumn | null, dialect: Dialect): ProofPlan {
  const parts = partJoins(plan);
  const stages: Stage[] = [];
  const steps: ProofStep[] = [];
  const totals: { source: Amount; accounted: Amount; sheet: Amount; groups: number | null } = {
    source: none(),
    accounted: none(),
    sheet: none(),
    groups: null,
  };
  const amountAt = (row: Cell[], at: number): Amount => ({ rows: Number(row[at] ?? 0), figure: row[at + 1] ?? null });
  const figureIn = (aliases: Set<string>): Expr | null => (figure?.expr && parts.within(figure.expr, aliases) ? figure.expr : null);

  stages.push(flatStage());
  const real: PlanJoin[] = [...parts.flatJoins];
  const scope = new Set(parts.flat);
  const filters: Filter[] = [...parts.flatConditions];
  let waiting = parts.laterConditions;
  for (const join of parts.laterJoins) {
    stages.push(laterJoinStage(join, [...real], [...filters], figureIn(scope)));
    for (const brought of parts.withDerived(join)) {
      real.push(brought);
      scope.add(brought.alias);
    }
    const ready = waiting.filter((c) => parts.within(c.expr, scope));
    waiting = waiting.filter((c) => !ready.includes(c));
    if (ready.length > 0) stages.push(laterConditionsStage(ready, [...real], [...filters], figureIn(scope)));
    filters.push(...ready);
  }
  stages.push(sheetStage());

  return {
    queries: stages.map((s) => s.sql),
    assemble(results) {
      stages.forEach((stage, i) => stage.read(results[i] ?? []));
      const { source, accounted, sheet, groups } = totals;
      const sameFigure = accounted.figure === null || sheet.figure === null || sameTotal(accounted.figure, sheet.figure, figure?.expr?.type ?? whole);
      return {
        source,
        steps: [...steps],
        accounted,
        sheet,
        groups,
        agrees: accounted.rows === sheet.rows && sameFigure,
        figure: figure?.expr ? { heading: figure.heading, type: figure.expr.type, column: figure.id } : null,
      };
    },
  };

  /** Source, flat conditions, kept and flat joins in one pass over the source. */
  function flatStage(): Stage {
    const countedJoins = parts.flatJoins.filter((j) => !j.auxiliary);
    const tests = [
      ...parts.flatConditions.map((c) => ({ condition: c as PlanCondition | null, join: null as PlanJoin | null, expr: isTrue(c.expr), filters: true })),
      ...countedJoins.map((j) => ({ condition: null, join: j, expr: foundExpr(j), filters: j.unmatched === "only" })),
    ];
    const writer = new SqlWriter(dialect);
    const f = figureIn(parts.flat);
    const inner = [`${f ? writer.expr(f) : "NULL"} AS f`, ...tests.map((t, i) => `${writer.expr(t.expr)} AS t${i}`)];
    const select = ["COUNT(*)", "SUM(f)"];
    const passed: string[] = [];
    const pushIf = (terms: string[]) => {
      const when = terms.length === 0 ? "1 = 1" : terms.join(" AND ");
      select.push(`COUNT(CASE WHEN ${when} THEN 1 END)`, `SUM(CASE WHEN ${when} THEN f END)`);
    };
    const readers: ((row: Cell[]) => void)[] = [];
    tests.forEach((test, i) => {
      if (i === parts.flatConditions.length) pushKept();
      const at = select.length;
      if (test.condition) {
        const { id, label } = test.condition;
        pushIf([...passed, `NOT t${i}`]);
        readers.push((row) => steps.push({ kind: "condition", id, label, leftOut: amountAt(row, at) }));
      } else if (test.join) {
        const { id, path, leadsTo, unmatched } = test.join;
        pushIf([...passed, `t${i}`]);
        pushIf([...passed, `NOT t${i}`]);
        readers.push((row) =>
          steps.push({
            kind: "join",
            id,
            label: path.join(" › "),
            leadsTo,
            unmatched,
            found: amountAt(row, at),
            missing: amountAt(row, at + 2),
            repeated: none(f ? zero : null),
            times: 1,
          }),
        );
      }
      if (test.filters) passed.push(`t${i}`);
    });
    if (countedJoins.length === 0) pushKept();
    const end = select.length;
    pushIf(passed);
    const read = [f, ...tests.map((t) => t.expr)];
    const needed = new Set(neededJoins(plan, read));
    const from = writer.from(plan, parts.flatJoins.filter((j) => !j.auxiliary || needed.has(j)).map(kept));
    return {
      sql: writer.sql(`SELECT ${select.join(",\n  ")}\nFROM (\nSELECT ${inner.join(", ")}\n${from}\n) AS r`),
      read(row) {
        totals.source = amountAt(row, 0);
        for (const read of readers) read(row);
        totals.accounted = amountAt(row, end);
      },
    };

    function pushKept() {
      const at = select.length;
      pushIf(passed);
      readers.push((row) => steps.push({ kind: "kept", amount: amountAt(row, at) }));
    }
  }

  /** A join that is not flat: what it finds, misses and repeats among the rows as they stand before it. */
  function laterJoinStage(join: PlanJoin, before: PlanJoin[], conditions: Filter[], f: Expr | null): Stage {
    const writer = new SqlWriter(dialect);
    const probe = join.leadsTo === "many" ? countsOf(join, plan) : kept(join);
    const found = writer.expr(foundExpr(probe));
    const matches = join.leadsTo === "many" ? `${quoted(probe.alias)}.${quoted(MATCHES)}` : "1";
    const inner = `SELECT ${f ? writer.expr(f) : "NULL"} AS f, CASE WHEN ${found} THEN ${matches} END AS n\n${writer.from(plan, [...before, probe])}${writer.where(conditions)}`;
    const text = `SELECT COUNT(n), SUM(CASE WHEN n IS NOT NULL THEN f END), COUNT(*) - COUNT(n), SUM(CASE WHEN n IS NULL THEN f END),
  SUM(n - 1), SUM(CASE WHEN n > 1 THEN f * (n - 1) END), MAX(n)\nFROM (\n${inner}\n) AS r`;
    const gained = [...aliasesUpTo(before), ...parts.withDerived(join).map((j) => j.alias)];
    const gainsFigure = f === null && figureIn(new Set(gained)) !== null;
    return {
      sql: writer.sql(text),
      read(row) {
        const repeated = { rows: Number(row[4] ?? 0), figure: f === null ? null : (row[5] ?? zero) };
        const [found, missing] = [amountAt(row, 0), amountAt(row, 2)];
        steps.push({
          kind: "join",
          id: join.id,
          label: join.path.join(" › "),
          leadsTo: join.leadsTo,
          unmatched: join.unmatched,
          found,
          missing,
          repeated,
          times: Number(row[6] ?? 1),
        });
        const type = figure?.expr?.type ?? whole;
        const stays = join.unmatched === "only" ? [found, repeated] : [found, missing, repeated];
        totals.accounted = {
          rows: stays.reduce((sum, a) => sum + a.rows, 0),
          figure: gainsFigure ? null : stays.map((a) => a.figure).reduce((a, b) => addCells(a, b, type)),
        };
      },
    };
  }

  function aliasesUpTo(joins: PlanJoin[]): string[] {
    return [plan.source.alias, ...joins.map((j) => j.alias)];
  }

  /** Conditions on what a join to many brought, each counted on what those before it let through. */
  function laterConditionsStage(conditions: PlanCondition[], joins: PlanJoin[], before: Filter[], f: Expr | null): Stage {
    const writer = new SqlWriter(dialect);
    const inner = [`${f ? writer.expr(f) : "NULL"} AS f`, ...conditions.map((c, i) => `${writer.expr(isTrue(c.expr))} AS t${i}`)];
    const select = conditions.flatMap((_, i) => {
      const when = [...conditions.slice(0, i).map((_, k) => `t${k}`), `NOT t${i}`].join(" AND ");
      return [`COUNT(CASE WHEN ${when} THEN 1 END)`, `SUM(CASE WHEN ${when} THEN f END)`];
    });
    const all = conditions.map((_, k) => `t${k}`).join(" AND ");
    select.push(`COUNT(CASE WHEN ${all} THEN 1 END)`, `SUM(CASE WHEN ${all} THEN f END)`);
    const text = `SELECT ${select.join(",\n  ")}\nFROM (\nSELECT ${inner.join(", ")}\n${writer.from(plan, joins)}${writer.where(before)}\n) AS r`;
    return {
      sql: writer.sql(text),
      read(row) {
        conditions.forEach(({ id, label }, i) => steps.push({ kind: "condition", id, label, leftOut: amountAt(row, 2 * i) }));
        totals.accounted = amountAt(row, 2 * conditions.length);
      },
    };
  }

  /** The query's own rows, counted as it is compiled; with the number of groups they make. */
  function sheetStage(): Stage {
    const writer = new SqlWriter(dialect);
    const keys = plan.columns.filter((c) => !c.figure && c.expr);
    const needed = neededJoins(plan, [figure?.expr ?? null, ...keys.map((k) => k.expr)]);
    const body = `${writer.from(plan, needed)}${writer.where(plan.conditions)}`;
    const f = figure?.expr ? writer.expr(figure.expr) : null;
    const groups = !plan.grouped
      ? "NULL"
      : keys.length === 0
        ? "1"
        : `(SELECT COUNT(*) FROM (SELECT 1 AS one\n${body}\nGROUP BY ${keys.map((k) => writer.expr(k.expr as Expr)).join(", ")}) AS g)`;
    return {
      sql: writer.sql(`SELECT COUNT(*), ${f ? `SUM(${f})` : "NULL"}, ${groups}\n${body}`),
      read(row) {
        totals.sheet = amountAt(row, 0);
        totals.groups = plan.grouped ? Number(row[2] ?? 0) : null;
      },
    };
  }
}

const zero: Cell = 0;
const none = (figure: Cell = null): Amount => ({ rows: 0, figure });

function addCells(a: Cell, b: Cell, type: ValueType): Cell {
  if (a === null || b === null) return a ?? b;
  if (type.kind === "floating") return Number(a) + Number(b);
  return (BigInt(a as string) + BigInt(b as string)).toString();
}

/** Exact figures must be the same to the last digit; floating ones within what their order of adding can change. */
function sameTotal(a: Cell, b: Cell, type: ValueType): boolean {
  if (type.kind !== "floating") return BigInt(a as string) === BigInt(b as string);
  return Math.abs(Number(a) - Number(b)) <= 1e-9 * Math.max(1, Math.abs(Number(a)));
}
