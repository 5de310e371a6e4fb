import { removePart } from "../pivot/edit";
import type { PivotPlan } from "../pivot/pivot";
import { addsUp, figureWords, planPivot } from "../pivot/plan";
import type { PivotFigure, PivotSpec } from "../pivot/spec";
import type { Path, RunContext } from "../query/operands";
import { overRows, resolveOver } from "../query/over";
import type { Plan } from "../query/plan";
import type { QueryColumn } from "../query/spec";
import { dateOfDay, dayNumber, isIsoDate, shiftPeriod } from "../types/date";
import { type Checked, type Problem, problem } from "../types/problem";
import { isNumber, TYPE_WORDS } from "../types/valueType";
import type { ChartKind } from "./choices";
import { CHARTS } from "./kinds";
import type { ChartSpec } from "./spec";

/** A chart checked against its query: a pivot, or rows of points or values. */
export type ChartPlan =
  | { shape: "series" | "parts"; pivot: PivotPlan }
  /** Columns: across, up, then size for bubbles, then the colouring field, then the naming one. */
  | { shape: "points"; rows: Plan; size: boolean; group: boolean; name: boolean }
  /** Columns: the number, then its group. */
  | { shape: "values"; rows: Plan; group: boolean };

/**
 * Checks a chart against its query's plan.
 * @param band the width of a histogram's bands, which the data decided where the description leaves it open
 */
export function planChart(spec: ChartSpec, inner: Plan, context: RunContext, band = spec.band): Checked<ChartPlan> {
  const { shape } = CHARTS[spec.kind];
  if (shape === "points") return planPoints(spec, inner, context);
  if (shape === "values") return planValues(spec, inner, context);
  const shown = spec.kind === "histogram" ? bandedPivot(spec, band) : shownPivot(spec);
  const pivot = planPivot(shown, inner, context);
  if (!pivot.ok) return pivot;
  const together = PUTS_TOGETHER[spec.kind];
  const apart = pivot.value.figures.findIndex((f) => !addsUp(f));
  const figure = pivot.value.figures[apart];
  if (together && figure && (shape === "parts" || shown.down.length > 0)) {
    const detail = { figure: figureWords(figure), kind: together, instead: spec.kind === "areas" ? "lines" : "bars" };
    return { ok: false, problems: [problem("chartParts", ["pivot", "figures", apart], detail)] };
  }
  if (spec.kind !== "histogram" && spec.pivot.across.length === 0) return { ok: false, problems: [problem("chartAlong", ["pivot", "across"])] };
  return { ok: true, value: { shape, pivot: pivot.value } };
}

/** Kinds that put parts together into the whole they are of. */
const PUTS_TOGETHER: Partial<Record<ChartKind, string>> = { stacked: "stacked bars", areas: "areas", pie: "a pie", ring: "a ring" };

/**
 * The figures as the kind shows them: to 100% means the share of all that stands at one place along; a pie has one set
 * of parts, of its first figure.
 */
function shownPivot({ kind, pivot }: ChartSpec): PivotSpec {
  if (CHARTS[kind].shape === "parts") return leftOutOf(pivot).reduce(removePart, pivot);
  if (kind !== "hundred") return pivot;
  return { ...pivot, figures: pivot.figures.map((f): PivotFigure => ({ ...f, showAs: "shareOfColumn" })) };
}

/** What stands on a pie's shelves beside its parts and its figure. */
export const leftOutOf = ({ down, figures }: PivotSpec): string[] => [...down, ...figures.slice(1)].map((part) => part.id);

/** How many rows lie in each band of the first figure's field. */
export function bandedPivot({ pivot }: ChartSpec, width: string): PivotSpec {
  const value = pivot.figures[0]?.value;
  if (value?.kind !== "field") return { ...pivot, figures: [] };
  return {
    ...pivot,
    across: [
      { id: "band", value: { ...value, band: { width: width || "1" } }, order: { by: "name", direction: "up" }, first: null, empty: true, subtotal: "none" },
    ],
    figures: [{ id: "count", value: null, figure: "count", showAs: "asIs" }],
  };
}

function rowsOf(spec: ChartSpec, inner: Plan, context: RunContext, columns: QueryColumn[], numbers: number): Checked<Plan> {
  const resolved = resolveOver({ ...overRows(), conditions: spec.pivot.conditions, parameters: spec.pivot.asked, columns }, inner, context);
  if (!resolved.ok) return resolved;
  const problems: Problem[] = resolved.value.columns.slice(0, numbers).flatMap((c, i) => {
    const path: Path = ["pivot", "figures", i];
    return isNumber(c.type) ? [] : [problem("chartNumber", path, { field: c.heading, type: TYPE_WORDS[c.type.kind] })];
  });
  return problems.length > 0 ? { ok: false, problems } : { ok: true, value: { ...resolved.value, tieBreak: [] } };
}

const fieldColumn = (id: string, value: QueryColumn["value"] | undefined): QueryColumn[] => (value ? [{ id, value }] : []);

function planPoints(spec: ChartSpec, inner: Plan, context: RunContext): Checked<ChartPlan> {
  const { figures, down, across } = spec.pivot;
  const wanted = spec.kind === "bubbles" ? 3 : 2;
  const values = figures.slice(0, wanted).map((f) => f.value);
  if (values.length < wanted || values.includes(null)) return { ok: false, problems: [problem("chartPoints", ["pivot", "figures"], { count: wanted })] };
  const columns = [...values.flatMap((v, i) => fieldColumn(`v${i}`, v)), ...fieldColumn("group", down[0]?.value), ...fieldColumn("name", across[0]?.value)];
  const rows = rowsOf(spec, inner, context, columns, wanted);
  if (!rows.ok) return rows;
  return { ok: true, value: { shape: "points", rows: rows.value, size: wanted === 3, group: down.length > 0, name: across.length > 0 } };
}

function planValues(spec: ChartSpec, inner: Plan, context: RunContext): Checked<ChartPlan> {
  const [figure] = spec.pivot.figures;
  if (!figure?.value) return { ok: false, problems: [problem("chartPoints", ["pivot", "figures"], { count: 1 })] };
  const group = spec.pivot.across[0];
  const rows = rowsOf(spec, inner, context, [...fieldColumn("value", figure.value), ...fieldColumn("group", group?.value)], 1);
  return rows.ok ? { ok: true, value: { shape: "values", rows: rows.value, group: group !== undefined } } : rows;
}

/**
 * A day so much earlier. The last day of a month goes to the last of the previous month, so that a whole month is held
 * against a whole one; a month too short ends on its last day.
 * @example daysEarlier("2026-09-30", "month") // "2026-08-31"
 */
export function daysEarlier(date: string, by: NonNullable<ChartSpec["earlier"]>): string {
  if (!isIsoDate(date)) return date;
  if (by === "day") return dateOfDay(dayNumber(date) - 1);
  if (by === "isoWeek") return dateOfDay(dayNumber(date) - 7);
  const first = shiftPeriod(date, "month", -{ year: 12, quarter: 3, month: 1 }[by]);
  const last = lastOfMonth(first);
  return date === lastOfMonth(date) || date.slice(8) > last.slice(8) ? last : `${first.slice(0, 8)}${date.slice(8)}`;
}

const lastOfMonth = (date: string): string => dateOfDay(dayNumber(shiftPeriod(date, "month", 1)) - 1);

/** The values of a query's date parameters, each so much earlier: the same question about an earlier time. */
export function valuesEarlier(inner: Plan, by: NonNullable<ChartSpec["earlier"]>): Record<string, string> {
  return Object.fromEntries(
    inner.parameters.flatMap((p) =>
      p.text === null
        ? []
        : [
            [
              p.name,
              p.period
                ? p.text
                    .split("/")
                    .map((day) => daysEarlier(day, by))
                    .join("/")
                : p.type.kind === "date" || p.type.kind === "timestamp"
                  ? daysEarlier(p.text, by)
                  : p.text,
            ],
          ],
    ),
  );
}
