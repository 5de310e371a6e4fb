import { moved } from "../types/list";
import { GRAND } from "./choices";
import { newLevel } from "./plan";
import type { FootingCell, FootingLine, Insert, RelatedTable, ReportColumn, ReportLevel, ReportSpec, SummaryLine } from "./spec";

/*
 * What a click, a key or a drop does to a report. Each gives a new description; what a change leaves without a place goes
 * with it.
 */

/** An id that nothing of its kind has. */
export function freshId(stem: string, taken: { id: string }[]): string {
  for (let n = 1; ; n++) {
    const id = n === 1 ? stem : `${stem} ${n}`;
    if (!taken.some((t) => t.id === id)) return id;
  }
}

/** Adds a level of groups, inside of those there are; the column it groups by is not printed in each row any more. */
export function addLevel(spec: ReportSpec, value: ReportLevel["value"]): ReportSpec {
  const stem = value.kind === "field" ? value.column.slice(0, 50) : "group";
  const level = newLevel(freshId(stem, spec.levels), value);
  const whole = value.kind === "field" && !value.part && !value.band && !value.limits && !value.letters;
  const printed = spec.columns.find((c) => whole && c.value.kind === "field" && c.value.column === value.column);
  const without = printed && spec.columns.length > 1 ? removeColumn(spec, printed.id) : spec;
  return { ...without, levels: [...without.levels, level] };
}

/** Groups by what a column prints. */
export function groupByColumn(spec: ReportSpec, id: string): ReportSpec {
  const column = spec.columns.find((c) => c.id === id);
  return column ? addLevel(spec, column.value) : spec;
}

export const changeLevel = (spec: ReportSpec, id: string, change: Partial<ReportLevel>): ReportSpec => ({
  ...spec,
  levels: spec.levels.map((l) => (l.id === id ? { ...l, ...change } : l)),
});

/** Removes a level, with what stood under its groups alone. */
export function removeLevel(spec: ReportSpec, id: string): ReportSpec {
  const lines = spec.lines.flatMap((l): FootingLine[] => {
    if (!l.levels?.includes(id)) return [l];
    const levels = l.levels.filter((level) => level !== id);
    return levels.length === 0 ? [] : [{ ...l, levels }];
  });
  const inner = (c: ReportColumn): ReportColumn => ({
    ...c,
    ...(c.window?.level === id ? { window: { ...c.window, level: GRAND } } : {}),
    ...(c.over === id ? { over: GRAND } : {}),
  });
  return settled({
    ...spec,
    levels: spec.levels.filter((l) => l.id !== id),
    lines,
    columns: spec.columns.map(inner),
    ...(spec.related ? { related: spec.related.filter((r) => r.under !== id) } : {}),
    ...(spec.inserts ? { inserts: spec.inserts.filter((i) => i.under !== id) } : {}),
    ...(spec.summaries ? { summaries: spec.summaries.filter((s) => s.under !== id) } : {}),
    ...(spec.passages ? { passages: spec.passages.filter((p) => typeof p.at !== "object" || p.at.level !== id) } : {}),
  });
}

/** Moves a level outwards (-1) or inwards. */
export const moveLevel = (spec: ReportSpec, id: string, by: -1 | 1): ReportSpec => ({
  ...spec,
  levels: moved(
    spec.levels,
    spec.levels.findIndex((l) => l.id === id),
    by,
  ),
});

/** Levels stand in an order that is there: one by a footing that has gone stands by its values. */
function settled(spec: ReportSpec): ReportSpec {
  const stands = ({ order }: ReportLevel) => order.by !== "figure" || spec.lines.some((l) => l.id === order.line && l.cells[order.column] !== undefined);
  return spec.levels.every(stands) ? spec : { ...spec, levels: spec.levels.map((l) => (stands(l) ? l : { ...l, order: { by: "value" }, direction: "up" })) };
}

export function addColumn(spec: ReportSpec, value: ReportColumn["value"], label?: string): ReportSpec {
  const stem = value.kind === "field" ? value.column.slice(0, 50) : "formula";
  const column: ReportColumn = { id: freshId(stem, spec.columns), value, widthMm: null, ...(label ? { label } : {}) };
  return { ...spec, columns: [...spec.columns, column] };
}

export const changeColumn = (spec: ReportSpec, id: string, change: Partial<ReportColumn>): ReportSpec => ({
  ...spec,
  columns: spec.columns.map((c) => (c.id === id ? { ...c, ...change } : c)),
});

/** Removes a column, with its footings. */
export function removeColumn(spec: ReportSpec, id: string): ReportSpec {
  const without = ({ [id]: _, ...cells }: Record<string, FootingCell>) => cells;
  return settled({
    ...spec,
    columns: spec.columns.filter((c) => c.id !== id),
    lines: spec.lines.map((l) => ({ ...l, cells: without(l.cells) })),
    ...(spec.carried ? { carried: spec.carried.filter((c) => c !== id) } : {}),
  });
}

/** Puts a column before another one; behind all of them where that is null. */
export function putColumn(spec: ReportSpec, id: string, before: string | null): ReportSpec {
  const column = spec.columns.find((c) => c.id === id);
  if (!column || id === before) return spec;
  const rest = spec.columns.filter((c) => c.id !== id);
  const at = before === null ? rest.length : rest.findIndex((c) => c.id === before);
  return at < 0 ? spec : { ...spec, columns: [...rest.slice(0, at), column, ...rest.slice(at)] };
}

const LEAST_MM = 5;
const MOST_MM = 300;

/** Sets a column's width, within what a column can have; null gives it back to its values. */
export const setWidth = (spec: ReportSpec, id: string, mm: number | null): ReportSpec =>
  changeColumn(spec, id, { widthMm: mm === null ? null : Math.round(Math.max(LEAST_MM, Math.min(MOST_MM, mm)) * 10) / 10 });

/** A line of footings under every level, without figures. */
export function addLine(spec: ReportSpec): { spec: ReportSpec; id: string } {
  const id = freshId("line", spec.lines);
  return { spec: { ...spec, lines: [...spec.lines, { id, text: "", cells: {} }] }, id };
}

export const changeLine = (spec: ReportSpec, id: string, change: Partial<FootingLine>): ReportSpec => ({
  ...spec,
  lines: spec.lines.map((l) => (l.id === id ? { ...l, ...change } : l)),
});

export const removeLine = (spec: ReportSpec, id: string): ReportSpec => settled({ ...spec, lines: spec.lines.filter((l) => l.id !== id) });

/** Sets the figure of a line under a column; null takes it away. Without a line there is one then. */
export function setCell(spec: ReportSpec, line: string, column: string, cell: FootingCell | null): ReportSpec {
  if (!spec.lines.some((l) => l.id === line)) {
    if (cell === null) return spec;
    const added = addLine(spec);
    return setCell(added.spec, added.id, column, cell);
  }
  const without = ({ [column]: _, ...cells }: Record<string, FootingCell>) => cells;
  return settled({
    ...spec,
    lines: spec.lines.map((l) => (l.id !== line ? l : { ...l, cells: cell === null ? without(l.cells) : { ...l.cells, [column]: cell } })),
  });
}

/** Whether a line stands at a level is turned over; one that stands nowhere is removed. */
export function toggleLineLevel(spec: ReportSpec, line: string, level: string): ReportSpec {
  const all = [...spec.levels.map((l) => l.id), GRAND];
  const own = spec.lines.find((l) => l.id === line);
  if (!own) return spec;
  const now = own.levels ?? all;
  const next = now.includes(level) ? now.filter((l) => l !== level) : [...now, level];
  if (next.length === 0) return removeLine(spec, line);
  const { levels: _, ...rest } = own;
  const changed: FootingLine = all.every((l) => next.includes(l)) ? rest : { ...rest, levels: all.filter((l) => next.includes(l)) };
  return settled({ ...spec, lines: spec.lines.map((l) => (l.id === line ? changed : l)) });
}

/** Whether a column's totals are carried over pages is turned over. */
export function toggleCarried(spec: ReportSpec, column: string): ReportSpec {
  const now = spec.carried ?? [];
  const next = now.includes(column) ? now.filter((c) => c !== column) : [...now, column];
  const { carried: _, ...rest } = spec;
  return next.length === 0 ? rest : { ...rest, carried: next };
}

export function addRelated(spec: ReportSpec, table: Omit<RelatedTable, "id">): ReportSpec {
  const made = spec.related ?? [];
  const taken = made.flatMap((r) => [r, ...(r.related ?? [])]);
  return { ...spec, related: [...made, { ...table, id: freshId("table", taken) }] };
}

/** Changes a related table, also one within another. */
export const changeRelated = (spec: ReportSpec, id: string, change: Partial<RelatedTable>): ReportSpec => ({
  ...spec,
  related: (spec.related ?? []).map((r) =>
    r.id === id ? { ...r, ...change } : { ...r, ...(r.related ? { related: r.related.map((n) => (n.id === id ? { ...n, ...change } : n)) } : {}) },
  ),
});

export const removeRelated = (spec: ReportSpec, id: string): ReportSpec => ({
  ...spec,
  related: (spec.related ?? []).filter((r) => r.id !== id).map((r) => ({ ...r, ...(r.related ? { related: r.related.filter((n) => n.id !== id) } : {}) })),
});

/** Puts a saved chart or pivot under the groups of a level: a chart under their headings, a pivot under their footings. */
export function addInsert(spec: ReportSpec, under: string, { kind, of }: Pick<Insert, "kind" | "of">): ReportSpec {
  const made = spec.inserts ?? [];
  const insert: Insert = { id: freshId(kind, made), kind, of, under, at: kind === "chart" ? "top" : "foot", heightMm: 60 };
  return { ...spec, inserts: [...made, insert] };
}

/** Changes an insert; null takes it away. */
export function changeInsert(spec: ReportSpec, id: string, change: Partial<Insert> | null): ReportSpec {
  const inserts = (spec.inserts ?? []).flatMap((i) => (i.id !== id ? [i] : change ? [{ ...i, ...change }] : []));
  const { inserts: _, ...rest } = spec;
  return inserts.length === 0 ? rest : { ...rest, inserts };
}

/** Sets the lines of the summary of a level's groups; without any there is none. */
export function setSummary(spec: ReportSpec, under: string, lines: SummaryLine[]): ReportSpec {
  const others = (spec.summaries ?? []).filter((s) => s.under !== under);
  const summaries = lines.length > 0 ? [...others, { under, lines }] : others;
  const { summaries: _, ...rest } = spec;
  return summaries.length === 0 ? rest : { ...rest, summaries };
}

/** The lines of a level's summary. */
export const summaryOf = (spec: ReportSpec, under: string): SummaryLine[] => spec.summaries?.find((s) => s.under === under)?.lines ?? [];

/** Adds a line to a level's summary: the first is a formula, one under others what they come to. */
export function addSummaryLine(spec: ReportSpec, under: string, of: SummaryLine["of"], text = ""): ReportSpec {
  const lines = summaryOf(spec, under);
  return setSummary(spec, under, [...lines, { id: freshId("line", lines), text, of }]);
}

/** Changes a line of a level's summary; null takes it away. */
export function changeSummaryLine(spec: ReportSpec, under: string, id: string, change: Partial<SummaryLine> | null): ReportSpec {
  return setSummary(
    spec,
    under,
    summaryOf(spec, under).flatMap((l) => (l.id !== id ? [l] : change ? [{ ...l, ...change }] : [])),
  );
}

/** The related table of an id, also one within another. */
export function relatedOf(spec: ReportSpec, id: string): RelatedTable | undefined {
  return (spec.related ?? []).flatMap((r) => [r, ...(r.related ?? [])]).find((r) => r.id === id);
}
