import { type Asking, answered, asked } from "../query/asking";
import { everyOf, type Plan, type PlanColumn } from "../query/plan";
import { DEPTH, levelsOf } from "../query/subtotals";
import { type ReadTable, recountRows } from "../recount/recount";
import { recountSheet } from "../recount/subtotals";
import { cellOfValue } from "../recount/value";
import { type Cell, isMisfit, type ValueType, whole } from "../types/valueType";
import { sameTotal } from "./sameTotal";

/*
 * What is worked out from the rows beside (running totals, ranks, changes), groups without rows, subtotals, and which rows come
 * first of each, no total tells: where a sheet has such, its lines are held against the recount's, one by one.
 */

/** Up to how many lines are recounted one by one. */
export const MOST_LINES = 100_000;

/** The first line in which a column differs, counted from 1. */
export type LineDifference = { column: string; heading: string; type: ValueType; line: number; sheet: Cell; recount: Cell };

export type LinesCheck = {
  /** The headings of what is worked out from the rows beside, and of keys with groups without rows; none where only the first rows of each are shown. */
  headings: string[];
  /** Why lines were not recounted: there are more than can be, or their order hangs on floating numbers; null where they were. */
  skipped: { why: "many"; most: number } | { why: "floating" } | null;
  /** How many lines there are; null where they were not recounted. */
  lines: { sheet: number; recount: number } | null;
  different: LineDifference[];
};

/** Of a floating column's largest value, the share by which two ways of working it out may differ. */
const FLOATING_WITHIN = 1e-9;

/**
 * Holds a sheet's lines against the recount's, asking for them as the sheet's SQL gives them; null for a plan that has nothing that its totals do not tell.
 * @param count how many lines there are at the most, as the account says
 */
export function* holdingLines(plan: Plan, count: number, read: ReadTable): Asking<LinesCheck | null> {
  const windows = plan.columns.filter((c) => c.window);
  const filled = plan.columns.filter((c) => everyOf(plan).some((e) => e.columns.includes(c.id)));
  const parted = levelsOf(plan).length > 0;
  if (windows.length === 0 && filled.length === 0 && !parted && !plan.firstOf) return null;
  const headings = [...[...filled, ...windows].map((c) => c.heading), ...(parted ? [SUBTOTALS.heading] : [])];
  const none = { headings, lines: null, different: [] };
  if (count > MOST_LINES) return { ...none, skipped: { why: "many", most: MOST_LINES } };
  if (ordersByFloating(plan)) return { ...none, skipped: { why: "floating" } };
  const sheetPlan: Plan = { ...plan, limit: null };
  const shown = [...(yield* asked({ of: "sheet", plan: sheetPlan }))].map((row) => row.map((cell) => (isMisfit(cell) ? null : cell)));
  const recount = (parted ? recountSheet(sheetPlan, read) : recountRows(sheetPlan, read)).map((row) => row.map(cellOfValue));
  const columns = parted ? [...plan.columns, SUBTOTALS] : plan.columns;
  const different = columns.flatMap((column, at) => firstDifference(column, at, shown, recount));
  return { headings, skipped: null, lines: { sheet: shown.length, recount: recount.length }, different };
}

/** The same where the lines are there at once. */
export const holdLines = (plan: Plan, count: number, sheet: (plan: Plan) => Iterable<Cell[]>, read: ReadTable): LinesCheck | null =>
  answered(holdingLines(plan, count, read), (statement) => sheet(statement.plan));

/** Whether lines, or what is worked out from those beside them, stand in an order that the last digits of floating numbers decide. */
function ordersByFloating(plan: Plan): boolean {
  const ranked = plan.columns.flatMap(({ window }) => ((window?.kind === "rank" || window?.kind === "quantile") && window.of ? [window.of] : []));
  const ordered = [plan.order, ...plan.columns.map((c) => c.window?.order ?? [])].flat().map((o) => o.column);
  return [...ranked, ...ordered].some((id) => plan.columns.find((c) => c.id === id)?.type.kind === "floating");
}

/** The column that says which lines are subtotals. */
const SUBTOTALS = { id: DEPTH, heading: "subtotals", type: whole };

function firstDifference({ id, heading, type }: Pick<PlanColumn, "id" | "heading" | "type">, at: number, shown: Cell[][], recount: Cell[][]): LineDifference[] {
  const sizes = type.kind === "floating" ? recount.map((row) => Math.abs(Number(row[at] ?? 0))) : [];
  const within = sizes.reduce((most, size) => Math.max(most, size), 0) * FLOATING_WITHIN;
  const line = recount.findIndex((row, i) => !sameTotal(row[at] ?? null, shown[i]?.[at] ?? null, within));
  return line < 0 ? [] : [{ column: id, heading, type, line: line + 1, sheet: shown[line]?.[at] ?? null, recount: recount[line]?.[at] ?? null }];
}

/** Whether nothing was found to differ. */
export const linesAgree = (check: LinesCheck | null): boolean =>
  check === null || (check.different.length === 0 && check.lines?.sheet === check.lines?.recount);
