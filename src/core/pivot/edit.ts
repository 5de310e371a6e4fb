import { addsUpByKind, figureStart, firstFigure } from "../query/aggregates";
import type { FigureName } from "../query/choices";
import type { Column, Table } from "../schema/schema";
import type { GroupPart } from "../types/date";
import { isDated } from "../types/valueType";
import { newAxis } from "./empty";
import type { PivotAxis, PivotFigure, PivotSpec } from "./spec";

/* What a person does to a pivot, each as a description made from a description. */

export type Side = "down" | "across";
export type Shelf = Side | "figures";

function freshId(spec: PivotSpec): string {
  const taken = new Set([...spec.down, ...spec.across, ...spec.figures].map((p) => p.id));
  for (let n = 1; ; n++) if (!taken.has(`p${n}`)) return `p${n}`;
}

const at = <T>(list: T[], item: T, place = list.length): T[] => [...list.slice(0, place), item, ...list.slice(place)];
const asField = (column: string) => ({ kind: "field" as const, join: "", column });

/** How a date is grouped that is put on a shelf for the first time, the second, … */
const PARTS: GroupPart[] = ["quarter", "month", "year", "isoWeek", "day", "weekday"];

function nextPart(spec: PivotSpec, column: string): GroupPart {
  const used = [...spec.down, ...spec.across].flatMap(({ value }) => (value.kind === "field" && value.column === column ? [value.part] : []));
  return PARTS.find((part) => !used.includes(part)) ?? "quarter";
}

/** Puts a field on a shelf: a date by quarter, or by what it is not grouped by yet; a number as its total. */
export function addField(spec: PivotSpec, column: Column, shelf: Shelf, place?: number, part?: GroupPart): PivotSpec {
  const id = freshId(spec);
  if (shelf === "figures") {
    const figure: PivotFigure = { id, value: asField(column.name), figure: firstFigure(column.type), showAs: "asIs" };
    return { ...spec, figures: at(spec.figures, figure, place) };
  }
  const value = { ...asField(column.name), ...(isDated(column.type) ? { part: part ?? nextPart(spec, column.name) } : {}) };
  return { ...spec, [shelf]: at(spec[shelf], { ...newAxis(id, value), subtotal: shelf === "down" ? "before" : "after" }, place) };
}

export const addCount = (spec: PivotSpec): PivotSpec => ({
  ...spec,
  figures: [...spec.figures, { id: freshId(spec), value: null, figure: "count", showAs: "asIs" }],
});

/** One more figure, a formula over the others: it counts rows until it says something else. */
export const addFormula = (spec: PivotSpec): PivotSpec => ({
  ...spec,
  figures: [...spec.figures, { id: freshId(spec), value: { kind: "formula", text: "COUNT(*)" }, figure: "formula", showAs: "asIs" }],
});

/** A figure once more, as what it is likely wanted as beside itself: its share of the row where its parts add up. */
export function duplicateFigure(spec: PivotSpec, id: string): PivotSpec {
  const figure = spec.figures.find((f) => f.id === id);
  if (!figure) return spec;
  const { label: _, format: __, ...rest } = figure;
  return { ...spec, figures: [...spec.figures, { ...rest, id: freshId(spec), showAs: addsUpByKind(figure.figure) ? "shareOfRow" : "asIs" }] };
}

export const changeAxis = (spec: PivotSpec, id: string, next: Partial<PivotAxis>): PivotSpec => {
  const change = (list: PivotAxis[]) => list.map((a) => (a.id === id ? { ...a, ...next } : a));
  return { ...spec, down: change(spec.down), across: change(spec.across) };
};

export const changeFigure = (spec: PivotSpec, id: string, next: Partial<PivotFigure>): PivotSpec => ({
  ...spec,
  figures: spec.figures.map((f) => (f.id === id ? { ...f, ...next } : f)),
});

/** Another figure of the same field; what its kind cannot be shown as goes back to as is. */
export function chooseFigure(spec: PivotSpec, id: string, figure: FigureName): PivotSpec {
  const showAs = addsUpByKind(figure) ? {} : { showAs: "asIs" as const };
  const { percent } = spec.figures.find((f) => f.id === id) ?? {};
  return changeFigure(spec, id, { figure, ...showAs, ...figureStart(figure, percent), format: undefined });
}

/** Takes a field or figure off; an order by a figure that went is by name. */
export function removePart(spec: PivotSpec, id: string): PivotSpec {
  const byName = (list: PivotAxis[]) =>
    list
      .filter((a) => a.id !== id)
      .map((a): PivotAxis => (a.order.by === "figure" && a.order.figure === id ? { ...a, order: { by: "name", direction: "up" } } : a));
  return {
    ...spec,
    down: byName(spec.down),
    across: byName(spec.across),
    figures: spec.figures.filter((f) => f.id !== id),
    heat: spec.heat === id ? null : spec.heat,
    shut: [],
  };
}

/** Moves a field within its shelf or to the other; figures only among themselves. @param place its place when it has been taken out */
export function movePart(spec: PivotSpec, id: string, to: Shelf, place: number): PivotSpec {
  const axis = [...spec.down, ...spec.across].find((a) => a.id === id);
  if (axis && to !== "figures") {
    const without = { down: spec.down.filter((a) => a.id !== id), across: spec.across.filter((a) => a.id !== id) };
    return { ...spec, ...without, [to]: at(without[to], axis, place), shut: [] };
  }
  const figure = spec.figures.find((f) => f.id === id);
  if (!figure || to !== "figures") return spec;
  return {
    ...spec,
    figures: at(
      spec.figures.filter((f) => f.id !== id),
      figure,
      place,
    ),
  };
}

/** Moves a field or figure one place back or on, over the end of "down" into "across" and back. */
export function nudgePart(spec: PivotSpec, id: string, by: -1 | 1): PivotSpec {
  for (const shelf of ["down", "across", "figures"] as const) {
    const place = spec[shelf].findIndex((p) => p.id === id);
    if (place < 0) continue;
    const next = place + by;
    if (next >= 0 && next < spec[shelf].length) return movePart(spec, id, shelf, next);
    if (shelf === "down" && by === 1) return movePart(spec, id, "across", 0);
    if (shelf === "across" && by === -1) return movePart(spec, id, "down", spec.down.length);
  }
  return spec;
}

export const toggleShut = (spec: PivotSpec, path: string): PivotSpec => ({
  ...spec,
  shut: spec.shut.includes(path) ? spec.shut.filter((p) => p !== path) : [...spec.shut, path],
});

/** A text with at most so many different values is offered to be grouped by. */
export const FEW_GROUPS = 30;

/**
 * A pivot to begin with: the first text of few values down, the first date across by quarter, the first amount as its total.
 * @param few whether a text has few different values
 */
export function firstPivot(spec: PivotSpec, table: Table, amounts: (column: Column) => boolean, few: (column: Column) => boolean = () => true): PivotSpec {
  const text = table.columns.find((c) => c.type.kind === "text" && few(c));
  const dated = table.columns.find((c) => isDated(c.type));
  const amount = table.columns.find(amounts);
  let next = spec;
  if (text) next = addField(next, text, "down");
  if (dated) next = addField(next, dated, "across");
  return amount ? addField(next, amount, "figures") : addCount(next);
}
