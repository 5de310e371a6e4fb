import * as edit from "@/core/report/edit";
import type { Area, Page, Part } from "@/core/report/page";
import type { ReportSpec } from "@/core/report/spec";

/* The parts of a page that can be chosen, and what keys and drops on them do: what lies under one another in a column is one. */

/** A part with its place on the page. */
export type Shown = { key: string; part: Part; x: number; y: number; width: number; height: number };

/** What tells a part from others; the same on each page. Footings of each group are parts of their own. */
export function keyOf(part: Part): string {
  switch (part.kind) {
    case "heading":
      return `heading ${part.level}`;
    case "columnHeading":
    case "value":
      return `${part.kind} ${part.column}`;
    case "footing":
      return `footing ${part.line} ${part.level} ${part.column ?? ""} ${JSON.stringify(part.keys)}`;
    case "passage":
      return `passage ${part.id}`;
    case "related":
      return `related ${part.id} ${part.column ?? ""}`;
    default:
      return part.kind;
  }
}

/** Whether two parts have the same settings. */
export const isSamePart = (a: Part, b: Part): boolean =>
  keyOf({ ...a, ...("keys" in a ? { keys: [] } : {}) } as Part) === keyOf({ ...b, ...("keys" in b ? { keys: [] } : {}) } as Part);

/** The parts of a page in reading order. Values of a column are one part, from the first to the last, as are lines of a text. */
export function partsOf({ areas = [] }: Pick<Page, "areas">): Shown[] {
  const found = new Map<string, Shown>();
  const joined = (part: Part) => part.kind === "value" || part.kind === "brief" || part.kind === "passage";
  const seen = new Map<string, number>();
  areas.forEach((area: Area) => {
    const own = keyOf(area.part);
    // The same part keeps its key while others come and go around it, so that what is held or focused stays so.
    const nth = joined(area.part) ? 0 : (seen.get(own) ?? 0);
    seen.set(own, nth + 1);
    const key = `${own} ${nth}`;
    const known = found.get(key);
    if (!known) return void found.set(key, { ...area, key });
    const [right, bottom] = [Math.max(known.x + known.width, area.x + area.width), Math.max(known.y + known.height, area.y + area.height)];
    const [x, y] = [Math.min(known.x, area.x), Math.min(known.y, area.y)];
    found.set(key, { ...known, x, y, width: right - x, height: bottom - y });
  });
  return [...found.values()].sort((a, b) => a.y - b.y || a.x - b.x);
}

/** The part an arrow key leads to: the next or the one before, or the nearest in the lines above or below. */
export function nextPart(parts: Shown[], at: number, key: string): number {
  const own = parts[at];
  if (!own) return 0;
  if (key === "ArrowRight") return Math.min(parts.length - 1, at + 1);
  if (key === "ArrowLeft") return Math.max(0, at - 1);
  if (key === "Home") return 0;
  if (key === "End") return parts.length - 1;
  const down = key === "ArrowDown";
  const beyond = parts.map((p, i) => ({ p, i })).filter(({ p }) => (down ? p.y > own.y + 1 : p.y < own.y - 1));
  if (beyond.length === 0) return at;
  const line = down ? Math.min(...beyond.map(({ p }) => p.y)) : Math.max(...beyond.map(({ p }) => p.y));
  const near = beyond.filter(({ p }) => Math.abs(p.y - line) < 2);
  return near.reduce((best, c) => (Math.abs(c.p.x - own.x) < Math.abs(best.p.x - own.x) ? c : best)).i;
}

/** The column before which one is dropped: the first whose middle lies right of the place; null behind all. */
export function dropBefore(columns: { column: string; x: number; width: number }[], x: number): string | null {
  return columns.find((c) => x < c.x + c.width / 2)?.column ?? null;
}

/** By which a key makes a column wider, in mm. */
const STEP_MM = 1;

type Pressed = { key: string; altKey: boolean; shiftKey: boolean };

/**
 * What an arrow key does to a column: with Alt it is put elsewhere, with Shift its width changes.
 * @param shownMm how wide it is printed, which it need not have been told
 * @returns the report changed, as it was where nothing lies beyond; null for keys that are none of these
 */
export function columnByKey(spec: ReportSpec, column: string, { key, altKey, shiftKey }: Pressed, shownMm: number): ReportSpec | null {
  if ((key !== "ArrowLeft" && key !== "ArrowRight") || (!altKey && !shiftKey)) return null;
  const at = spec.columns.findIndex((c) => c.id === column);
  if (altKey) {
    const to = at + (key === "ArrowLeft" ? -1 : 2);
    return to < 0 || to > spec.columns.length ? spec : edit.putColumn(spec, column, spec.columns[to]?.id ?? null);
  }
  const now = spec.columns[at]?.widthMm ?? shownMm;
  return edit.setWidth(spec, column, now + (key === "ArrowRight" ? STEP_MM : -STEP_MM));
}
