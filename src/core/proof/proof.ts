import type { FootingSql } from "../query/footing";
import { countsOnce } from "../query/home";
import { isCut, type Plan, type PlanColumn, rowsOfGroups, uncut } from "../query/plan";
import type { Cell, ValueType } from "../types/valueType";
import type { Account, Amount, ProofStep, Repeats } from "./account";
import { type LinesCheck, linesAgree } from "./lines";
import { sameTotal } from "./sameTotal";

/*
 * A proof holds what a query shows against the account of its rows:
 *
 *   account (account.ts): source → left out by each condition → kept → found, missing, repeated at each join → the end
 *   sheet: the query's own footing, as it is compiled and shown
 *
 * The two share no SQL: the account is made by the recount, which joins and adds by itself. It agrees only where rows,
 * groups and every total come to the same, and every line where totals do not tell all (lines.ts).
 */

/** A total of the sheet held against the recount's. `within` is what floating numbers may differ by; 0 where they are exact. */
export type TotalCheck = { column: string; heading: string; type: ValueType; accounted: Cell; sheet: Cell; within: number; agrees: boolean };

/** Of a column whose values a link repeats: whose rows they are, and what the sheet's footing comes to by either rule. */
export type RepeatsCheck = Repeats & {
  column: string;
  heading: string;
  type: ValueType;
  of: string;
  counted: "once" | "every";
  /** The groups' totals added up, where rows may fall into several groups; else null. */
  groups: Cell;
};

/** What worked a sheet out: the database itself, or the copy of its tables by columns. */
export type AnsweredBy = "sqlite" | "columnar" | "postgres";

export type Proof = {
  /** What the sheet's own figures came from; the account is always of the database's tables. */
  answeredBy?: AnsweredBy;
  /** The moment (ISO 8601) that all of it is of, where that is an earlier one: then the account is of rows copied at that moment. */
  asOf?: string | null;
  source: Amount;
  steps: ProofStep[];
  /** What the account comes to, and what the query itself counts: they must agree. */
  accounted: Amount;
  sheet: Amount;
  /** The groups of the sheet, and those the account comes to; null where rows are not grouped. */
  groups: number | null;
  accountedGroups: number | null;
  totals: TotalCheck[];
  repeats: RepeatsCheck[];
  /** Lines held one by one; null where the totals tell all there is. */
  lines: LinesCheck | null;
  agrees: boolean;
  /** The figure that is followed; `once` names the rows it is counted once for, which leave it only with their last row here. */
  figure: { heading: string; type: ValueType; column: string; once: string | null } | null;
};

/** Which rows of an account to open. */
export type ProofPick =
  | { part: "source" | "kept" | "sheet" }
  | { part: "leftOut" | "leftOutGroups"; id: string }
  | { part: "found" | "missing" | "added" | "unmatched" | "repeated"; id: string }
  /** Of a group, by the values of its first keys, all or some; with a column, only those that its figure counts. */
  | { part: "group"; keys: (string | number | null)[]; column?: string | undefined };

/** What a query itself comes to before its limit: the footings of these plans count its rows, and add it up. */
export function sheetPlans(plan: Plan): { rows: Plan; footing: Plan } {
  const whole = uncut(plan);
  const rows = plan.grouped ? { ...rowsOfGroups(whole), columns: [] } : { ...whole, columns: isCut(whole) ? whole.columns.map(unfooted) : [] };
  return { rows, footing: whole };
}

function unfooted({ foot: _, ...column }: PlanColumn): PlanColumn {
  return { ...column, totalled: false };
}

/** What the SQL of a sheet answered, and its lines held against the recount. */
export type SheetAnswer = { rows: Cell[]; footing: Cell[]; lines: LinesCheck | null };

/**
 * Holds a sheet against the account of its rows.
 * @param figure the column the account follows
 * @param sheet the footings of `sheetPlans` of the same plan, and its lines as `holdingLines` found them
 */
export function prove(plan: Plan, figure: PlanColumn | null, account: Account, sql: FootingSql, sheet: SheetAnswer): Proof {
  const { totals, repeats } = readFooting(plan, sql, sheet.footing);
  const checks = sql.totals.map(({ column, type }): TotalCheck => {
    const { value, within } = account.totals[column] ?? { value: null, within: 0 };
    const shown = totals[column] ?? null;
    const heading = plan.columns.find((c) => c.id === column)?.heading ?? column;
    return { column, heading, type, accounted: value, sheet: shown, within, agrees: sameTotal(value, shown, within) };
  });
  const rows = Number(sheet.rows[0] ?? 0);
  const groups = account.groups === null ? null : Number(sheet.footing[0] ?? 0);
  const followed = checks.find((c) => c.column === figure?.id);
  const steps = account.accounted.figure;
  const sameFigure = !followed || sameTotal(steps, followed.sheet, followed.within);
  return {
    source: account.source,
    steps: account.steps,
    accounted: account.accounted,
    sheet: { rows, figure: followed?.sheet ?? null },
    groups,
    accountedGroups: account.groups,
    totals: checks,
    repeats,
    lines: sheet.lines,
    agrees:
      linesAgree(sheet.lines) &&
      account.accounted.rows === rows &&
      account.groups === groups &&
      sameFigure &&
      checks.every((c) => c.agrees) &&
      repeats.every((r) => sameRepeats(r, account.repeats[r.column], checks.find((c) => c.column === r.column)?.within ?? 0)),
    figure: figure?.expr
      ? { heading: figure.heading, type: figure.expr.type, column: figure.id, once: countsOnce(figure) ? (figure.home?.words ?? "") : null }
      : null,
  };
}

/** A formula that is empty in so many rows though a part of it has a value (query/emptied.ts). */
export type EmptiedRows = { column: string; heading: string; isText: boolean; rows: number };

/** A footing's answer by column. */
export function readFooting(
  plan: Plan,
  sql: FootingSql,
  row: Cell[],
): { rows: number; totals: Record<string, Cell>; misfits: Record<string, number>; emptied: EmptiedRows[]; repeats: RepeatsCheck[] } {
  const misfitsAt = 1 + sql.totals.length;
  const emptiedAt = misfitsAt + sql.misfits.length;
  const repeatsAt = emptiedAt + sql.emptied.length;
  const column = (id: string) => plan.columns.find((c) => c.id === id) as PlanColumn;
  return {
    rows: Number(row[0] ?? 0),
    totals: Object.fromEntries(sql.totals.map((t, i) => [t.column, row[1 + i] ?? null])),
    misfits: Object.fromEntries(sql.misfits.map((id, i) => [id, Number(row[misfitsAt + i] ?? 0)])),
    emptied: sql.emptied.flatMap((id, i): EmptiedRows[] => {
      const [rows, { heading, type }] = [Number(row[emptiedAt + i] ?? 0), column(id)];
      return rows > 0 ? [{ column: id, heading, isText: type.kind === "text", rows }] : [];
    }),
    repeats: sql.repeats.map((id, i): RepeatsCheck => {
      const [once = null, every = null, rows = null, groups = null] = row.slice(repeatsAt + 4 * i, repeatsAt + 4 * i + 4);
      const counted = countsOnce(column(id)) ? "once" : "every";
      const { heading, type, home } = column(id);
      return { column: id, heading, type, of: home?.words ?? "", counted, once, every, rows: rows === null ? null : Number(rows), groups };
    }),
  };
}

const sameRepeats = (a: RepeatsCheck, b: Repeats | undefined, within: number): boolean =>
  b !== undefined && a.rows === b.rows && sameTotal(a.once, b.once, within) && sameTotal(a.every, b.every, within);
