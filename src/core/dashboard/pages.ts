import { PAGE, wrapped } from "../pivot/pages";
import { fitted, SIZE } from "../pivot/panels";
import type { Font, Metrics, Page, PageItem, Tone } from "../report/page";
import { fitWidths } from "../report/widths";
import { counted, type Locale, writeCount } from "../types/format";
import type { FigureWords } from "./compare";
import type { DashboardSpec, Place, Tile } from "./spec";

/*
 * A dashboard on paper, as its tiles stand on a wide screen: the grid's columns share the paper's width, and a tile that
 * would cross the foot of a page begins the next, with all that stands beside and below it.
 */

/** A table's rows are `of` so many of a noun; `whole`: what its tile has no room for is printed by itself. */
export type PrintedTable = {
  kind: "table";
  headings: { text: string; right: boolean }[];
  rows: { text: string; negative: boolean }[][];
  of: number;
  noun: string;
  whole: boolean;
};

/** What a tile prints. A picture's sides are of one ratio; it is fitted into its tile. */
export type PrintedTile =
  | { kind: "figure"; figure: FigureWords }
  | { kind: "picture"; png: string; ratio: number }
  | PrintedTable
  | { kind: "words"; text: string };

type Input = {
  spec: DashboardSpec;
  /** By tile of the grid; one that is not here prints its title alone. */
  tiles: Map<string, PrintedTile>;
  /** By tile of the grid: what it says under its title. */
  notes: Map<string, string>;
  texts: { title: string; brief: string; printedAt: string };
  metrics: Metrics;
  locale: Locale;
  /** Whether it is cut into pages of paper, or is one page as long as it takes. */
  paged: boolean;
};

const COLUMNS = 12;
const ROW = 18;
const PAD = 6;
const LINE = 11;
const HEAD = 15;
const TITLE = 10;

type Rect = { x: number; y: number; width: number; height: number };

/** Lays the tiles of a dashboard out on A4 pages, landscape, or on one of their width. */
export function layOutDashboard({ spec, tiles, notes, texts, metrics, locale, paged }: Input): Page[] {
  const width = PAGE.width - 2 * PAGE.margin;
  const brief = wrapped(texts.brief, width, metrics);
  const top = PAGE.margin + 26 + brief.length * 10;
  const height = paged ? PAGE.height : top + Math.max(0, ...spec.wide.map((p) => p.y + p.h)) * ROW + PAGE.margin + 12;
  const bottom = height - PAGE.margin - 6;
  const pages: PageItem[][] = [];
  const begin = () => pages.push([]);
  begin();
  const items = () => pages.at(-1) as PageItem[];
  items().push(
    { kind: "text", x: PAGE.margin, y: PAGE.margin + 12, text: texts.title, font: "serifBold", size: SIZE.title, tone: "ink" },
    ...brief.map((text, i): PageItem => ({ kind: "text", x: PAGE.margin, y: PAGE.margin + 26 + i * 10, text, font: "sans", size: SIZE.small, tone: "faint" })),
  );
  let from = 0;
  let start = top;
  for (const place of [...spec.wide].sort((a, b) => a.y - b.y || a.x - b.x)) {
    const tile = spec.tiles.find((t) => t.id === place.tile);
    if (!tile) continue;
    if (start + (place.y + place.h - from) * ROW > bottom && place.y > from) {
      begin();
      from = place.y;
      start = PAGE.margin;
    }
    const rect = rectOf(place, width, start + (place.y - from) * ROW, bottom);
    items().push(...drawTile(tile, tiles.get(tile.id), notes.get(tile.id) ?? "", rect, metrics, locale));
  }
  return pages.map((drawn, i) => {
    const words = `page ${i + 1} of ${pages.length}`;
    const end = PAGE.width - PAGE.margin;
    const foot = (x: number, text: string, more = {}): PageItem => ({
      kind: "text",
      x,
      y: height - PAGE.margin + 8,
      text,
      font: "sans",
      size: SIZE.small,
      tone: "faint",
      ...more,
    });
    return {
      number: i + 1,
      width: PAGE.width,
      height,
      items: [...drawn, foot(PAGE.margin, texts.printedAt), ...(paged ? [foot(end - metrics.width(words, "sans", SIZE.small), words, { end })] : [])],
    };
  });
}

/** How much room a tile has for a picture under its title, in points. */
export function pictureRoom(spec: DashboardSpec, tile: string, noted: boolean): { width: number; height: number } {
  const place = spec.wide.find((p) => p.tile === tile);
  const note = noted ? 10 : 0;
  const width = ((PAGE.width - 2 * PAGE.margin) / COLUMNS) * (place?.w ?? COLUMNS) - 2 * PAD;
  return { width, height: Math.max(60, (place?.h ?? 12) * ROW - HEAD - note - 6 - PAD) };
}

function rectOf({ x, w, h }: Place, width: number, y: number, bottom: number): Rect {
  const column = width / COLUMNS;
  return { x: PAGE.margin + x * column, y, width: w * column, height: Math.min(h * ROW, bottom - y) };
}

function drawTile(tile: Tile, printed: PrintedTile | undefined, note: string, rect: Rect, metrics: Metrics, locale: Locale): PageItem[] {
  const items: PageItem[] = [{ kind: "rule", x: rect.x, y: rect.y, width: rect.width - PAD, weight: 0.4 }];
  const text = (x: number, y: number, words: string, font: Font, size: number, tone: Tone = "ink", end?: number) =>
    items.push({ kind: "text", x, y, text: words, font, size, tone, ...(end === undefined ? {} : { end }) });
  const inside = rect.width - 2 * PAD;
  let y = rect.y + HEAD;
  const small = printed?.kind === "figure";
  if (tile.title)
    text(
      rect.x,
      y,
      fitted(tile.title, inside, small ? "sans" : "serifBold", metrics, small ? SIZE.body : TITLE),
      small ? "sans" : "serifBold",
      small ? SIZE.body : TITLE,
      small ? "faint" : "ink",
    );
  if (note) {
    y += 10;
    text(rect.x, y, fitted(note, inside, "sans", metrics, SIZE.small), "sans", SIZE.small, "faint");
  }
  y += 6;
  const room = rect.y + rect.height - y - PAD;
  switch (printed?.kind) {
    case undefined:
      break;
    case "figure": {
      const { words, negative, strong, good, rest } = printed.figure;
      text(rect.x, y + 16, words, "serifBold", 18, negative ? "vermilion" : "ink");
      if (strong) text(rect.x, y + 29, strong, "sansBold", SIZE.body, good ? "green" : "vermilion");
      text(rect.x + metrics.width(strong, "sansBold", SIZE.body), y + 29, rest, "sans", SIZE.body, "faint");
      break;
    }
    case "picture": {
      const width = Math.min(inside, room * printed.ratio);
      items.push({ kind: "picture", x: rect.x, y, width, height: width / printed.ratio, png: printed.png, alt: tile.title });
      break;
    }
    case "table":
      drawRows(printed, { x: rect.x, y, width: inside, height: room }, metrics, locale, text);
      break;
    case "words":
      printed.text
        .split("\n")
        .flatMap((line) => wrapped(line, inside, metrics))
        .slice(0, Math.max(1, Math.floor(room / LINE)))
        .forEach((line, i) => text(rect.x, y + LINE * (i + 1), line, "sans", SIZE.small));
      break;
    default:
      printed satisfies never;
  }
  return items;
}

type Write = (x: number, y: number, words: string, font: Font, size: number, tone?: Tone, end?: number) => void;

/** How many rows of a table find room in a place, under its heading and over the line that counts them. */
const rowsThatFit = (height: number): number => Math.max(0, Math.floor((height - 2 * LINE) / LINE));

/** As many rows of a table as its tile has room for; how many there are stands under them, and where the others are. */
function drawRows(table: PrintedTable, rect: Rect, metrics: Metrics, locale: Locale, text: Write): void {
  const { rows, of, noun, whole } = table;
  const shown = rows.slice(0, rowsThatFit(rect.height));
  drawColumns(table, shown, rect, metrics, text);
  const count = `${writeCount(shown.length, locale)} of ${counted(of, noun, locale)}`;
  const own = rows.length === of ? "all" : `the first ${writeCount(rows.length, locale)}`;
  const others = !whole || shown.length === rows.length ? "" : `; ${own} are on a page of their own`;
  const words = fitted(count + others, rect.width, "sans", metrics, SIZE.small);
  text(rect.x, rect.y + LINE * (shown.length + 2), words, "sans", SIZE.small, "faint");
}

/** The headings of a table and some of its rows, as wide as there is room. */
function drawColumns({ headings }: PrintedTable, shown: PrintedTable["rows"], rect: Rect, metrics: Metrics, text: Write): void {
  const natural = headings.map(
    (h, i) => Math.max(metrics.width(h.text, "sansBold", SIZE.small), ...shown.map((r) => metrics.width(r[i]?.text ?? "", "sans", SIZE.small))) + 8,
  );
  const widths = fitWidths(
    natural.map((w, i) => ({ natural: w, whole: headings[i]?.right ?? false })),
    rect.width,
  );
  const spare = headings.length > 1 ? Math.max(0, rect.width - widths.reduce((a, b) => a + b, 0)) / (headings.length - 1) : 0;
  let x = rect.x;
  headings.forEach((heading, i) => {
    const width = (widths[i] ?? 0) - 8;
    const cell = (y: number, words: string, font: Font, tone: Tone) => {
      const cut = fitted(words, width + 0.5, font, metrics, SIZE.small);
      if (heading.right) text(x + width - metrics.width(cut, font, SIZE.small), y, cut, font, SIZE.small, tone, x + width);
      else text(x, y, cut, font, SIZE.small, tone);
    };
    cell(rect.y + LINE, heading.text, "sansBold", "ink");
    shown.forEach((row, n) => cell(rect.y + LINE * (n + 2), row[i]?.text ?? "", "sans", row[i]?.negative ? "vermilion" : "ink"));
    x += (widths[i] ?? 0) + spare;
  });
}

/** Whether a tile's table has more rows than its tile has room for. */
export function isCut(spec: DashboardSpec, tile: string, noted: boolean, { rows }: PrintedTable): boolean {
  return rows.length > rowsThatFit(pictureRoom(spec, tile, noted).height);
}

/** A table by itself on A4 pages, landscape: what a tile had no room for. */
export function layOutRows(table: PrintedTable, texts: Input["texts"], metrics: Metrics, locale: Locale): Page[] {
  const width = PAGE.width - 2 * PAGE.margin;
  const brief = wrapped(texts.brief, width, metrics);
  const top = PAGE.margin + 26 + brief.length * 10;
  const perPage = rowsThatFit(PAGE.height - PAGE.margin - 12 - top);
  const count = Math.max(1, Math.ceil(table.rows.length / perPage));
  return Array.from({ length: count }, (_, n): Page => {
    const items: PageItem[] = [];
    const text: Write = (x, y, words, font, size, tone = "ink", end) =>
      items.push({ kind: "text", x, y, text: words, font, size, tone, ...(end === undefined ? {} : { end }) });
    text(PAGE.margin, PAGE.margin + 12, fitted(texts.title, width, "serifBold", metrics, SIZE.title), "serifBold", SIZE.title);
    brief.forEach((line, i) => text(PAGE.margin, PAGE.margin + 26 + i * 10, line, "sans", SIZE.small, "faint"));
    const shown = table.rows.slice(n * perPage, (n + 1) * perPage);
    drawColumns(table, shown, { x: PAGE.margin, y: top, width, height: perPage * LINE }, metrics, text);
    items.push({ kind: "rule", x: PAGE.margin, y: top + LINE + 3, width, weight: 0.7 });
    if (n === count - 1) {
      const words = `${writeCount(table.rows.length, locale)} of ${counted(table.of, table.noun, locale)}`;
      text(PAGE.margin, top + LINE * (shown.length + 2), words, "sans", SIZE.small, "faint");
    }
    const [foot, page] = [PAGE.height - PAGE.margin + 8, `page ${n + 1} of ${count}`];
    const end = PAGE.width - PAGE.margin;
    text(PAGE.margin, foot, texts.printedAt, "sans", SIZE.small, "faint");
    text(end - metrics.width(page, "sans", SIZE.small), foot, page, "sans", SIZE.small, "faint", end);
    return { number: n + 1, width: PAGE.width, height: PAGE.height, items };
  });
}
