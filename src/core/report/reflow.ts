import type { Area, Page, PageItem } from "./page";
import type { ReportSpec } from "./spec";
import { COLUMN_GAP, type ColumnNeed, columnWidths } from "./widths";

/*
 * A page that was laid out, with its columns as wide as the report has them now: it is looked at while the page itself is laid
 * out anew. Texts move with their columns; one that would be cut or broken otherwise stays as it was until then.
 */

/** A column of the report as a page has it. */
export type PlacedColumn = ColumnNeed & { id: string; x: number; width: number };

/** How near two places are the same, in points. */
const NEAR = 1;

/** The column that an area is of, where it stands in the report's own table. */
const columnOf = ({ part }: Area): string | null => (part.kind === "columnHeading" || part.kind === "value" || part.kind === "footing" ? part.column : null);

/** Columns where they come to stand by the widths of a report; null where it has other columns by now, or the same widths. */
function placedNow(placed: PlacedColumn[], spec: Pick<ReportSpec, "columns">): PlacedColumn[] | null {
  const [first] = placed;
  const last = placed.at(-1);
  if (!first || !last || spec.columns.length !== placed.length || !spec.columns.every((c, i) => c.id === placed[i]?.id)) return null;
  const widths = columnWidths(
    placed.map(({ natural, whole, right }, i) => ({ natural, whole, right, widthMm: spec.columns[i]?.widthMm ?? null })),
    last.x + last.width - first.x,
  );
  if (placed.every((c, i) => Math.abs(c.width - (widths[i] ?? 0)) < 0.01)) return null;
  let { x } = first;
  return placed.map((c, i) => {
    const width = widths[i] ?? 0;
    const at = x;
    x += width + COLUMN_GAP;
    return { ...c, x: at, width };
  });
}

/**
 * The page with the widths that a report's columns have now.
 * @param placed the columns as the page was laid out with
 * @returns the page itself where nothing moves, or the report has other columns than it was laid out with
 */
export function reflowColumns(page: Page, placed: PlacedColumn[], spec: Pick<ReportSpec, "columns" | "shape">): Page {
  const now = spec.shape.kind === "table" ? placedNow(placed, spec) : null;
  if (!now) return page;
  // On pages with other margins the whole table stands elsewhere.
  const first = page.areas?.find((a) => (a.part.kind === "columnHeading" || a.part.kind === "value") && a.part.column === placed[0]?.id);
  const aside = first ? first.x - (placed[0]?.x ?? 0) : 0;
  const lines = (page.areas ?? []).filter((a) => columnOf(a) !== null);
  const inTable = (y: number) => lines.some((a) => y >= a.y - NEAR && y <= a.y + a.height + NEAR);
  const near = (a: number | undefined, b: number) => a !== undefined && Math.abs(a - b) < NEAR;
  const moved = (item: PageItem): PageItem => {
    if (item.kind !== "text" || !inTable(item.y)) return item;
    const at = placed.findIndex((c) => (c.right ? near(item.end, c.x + c.width + aside) : near(item.x, c.x + aside)));
    const [from, to] = [placed[at], now[at]];
    if (!from || !to) return item;
    const by = from.right ? to.x + to.width - from.x - from.width : to.x - from.x;
    return { ...item, x: item.x + by, ...(item.end === undefined ? {} : { end: item.end + by }) };
  };
  const areas = page.areas?.map((area) => {
    const id = columnOf(area);
    const to = id === null ? undefined : now.find((c) => c.id === id);
    return to ? { ...area, x: to.x + aside, width: to.width } : area;
  });
  return { ...page, items: page.items.map(moved), ...(areas ? { areas } : {}) };
}
