import { plural } from "../schema/schema";
import { GROUP_PART_WORDS, GROUP_PARTS } from "../types/date";
import { cellWriter, type Locale } from "../types/format";
import { withUnit } from "../types/unit";
import type { Cell } from "../types/valueType";
import type { AxisField, Heading, Pivot } from "./pivot";
import type { PivotSpec } from "./spec";
import { keyOf } from "./tree";

/*
 * How a pivot's headings stand, on screen, on paper and in files: its lines down, its columns across, and the rows of
 * headings above them. A group shut by hand shows its subtotal alone.
 */

/** One line down. `figures` is false for a heading whose subtotal stands elsewhere. */
export type Line = { heading: number; kind: "group" | "leaf" | "subtotal" | "total"; level: number; figures: boolean; open: boolean | null };
/** One column of figures across. */
export type Column = { heading: number; figure: number; kind: "leaf" | "subtotal" | "total" };
/** A heading above columns `from` to `from + span`; `rows` deep. */
export type Banner = { heading: number; figure: number | null; from: number; span: number; rows: number; open: boolean | null; kind: Column["kind"] | "group" };
export type PivotLines = { lines: Line[]; columns: Column[]; banners: Banner[][] };

/** A group as the text it is remembered by when it is shut: its side and the keys that lead to it. */
export function shutKey(side: "down" | "across", headings: Heading[], index: number): string {
  const keys: string[] = [];
  for (let at = index; at > 0; at = headings[at]?.parent ?? 0) keys.unshift(headings[at]?.rest ? "rest" : keyOf(headings[at]?.key ?? null));
  return `${side} ${keys.join(" ")}`;
}

const childrenOf = (headings: Heading[]): number[][] => {
  const children: number[][] = headings.map(() => []);
  headings.forEach(({ parent }, i) => {
    if (parent >= 0) children[parent]?.push(i);
  });
  return children;
};

/** Puts a pivot's headings into lines, columns and banners as its description asks for. */
export function linesOf(pivot: Pivot, spec: PivotSpec): PivotLines {
  const shut = new Set(spec.shut);
  return { lines: linesDown(pivot, spec, shut), ...columnsAcross(pivot, spec, shut) };
}

function linesDown({ down }: Pivot, spec: PivotSpec, shut: Set<string>): Line[] {
  const children = childrenOf(down);
  const lines: Line[] = [];
  const walk = (index: number) => {
    const { level } = down[index] as Heading;
    const below = children[index] ?? [];
    if (level > 0 && below.length === 0) return void lines.push({ heading: index, kind: "leaf", level, figures: true, open: null });
    if (level === 0) for (const child of below) walk(child);
    else {
      const open = !shut.has(shutKey("down", down, index));
      const place = spec.down[level - 1]?.subtotal ?? "before";
      lines.push({ heading: index, kind: "group", level, figures: !open || place === "before", open });
      if (open) for (const child of below) walk(child);
      if (open && place === "after") lines.push({ heading: index, kind: "subtotal", level, figures: true, open: null });
    }
  };
  walk(0);
  if (spec.totals.down || down.length === 1) lines.push({ heading: 0, kind: "total", level: 0, figures: true, open: null });
  return lines;
}

function columnsAcross({ across, figures }: Pivot, spec: PivotSpec, shut: Set<string>): Pick<PivotLines, "columns" | "banners"> {
  const children = childrenOf(across);
  const depth = Math.max(1, spec.across.length);
  const columns: Column[] = [];
  const banners: Banner[][] = Array.from({ length: depth + 1 }, () => []);
  const put = (heading: number, kind: Column["kind"], row: number) => {
    banners[row]?.push({ heading, figure: null, from: columns.length, span: figures.length, rows: depth - row, open: null, kind });
    figures.forEach((_, figure) => {
      banners[depth]?.push({ heading, figure, from: columns.length, span: 1, rows: 1, open: null, kind });
      columns.push({ heading, figure, kind });
    });
  };
  const walk = (index: number) => {
    const { level } = across[index] as Heading;
    const below = children[index] ?? [];
    if (level > 0 && below.length === 0) return put(index, "leaf", level - 1);
    if (level === 0) {
      for (const child of below) walk(child);
      return;
    }
    const open = !shut.has(shutKey("across", across, index));
    const place = spec.across[level - 1]?.subtotal ?? "after";
    const banner: Banner = { heading: index, figure: null, from: columns.length, span: 0, rows: open ? 1 : depth - level + 1, open, kind: "group" };
    banners[level - 1]?.push(banner);
    if (!open) {
      figures.forEach((_, figure) => {
        banners[depth]?.push({ heading: index, figure, from: columns.length, span: 1, rows: 1, open: null, kind: "subtotal" });
        columns.push({ heading: index, figure, kind: "subtotal" });
      });
    } else {
      if (place === "before") put(index, "subtotal", level);
      for (const child of below) walk(child);
      if (place === "after") put(index, "subtotal", level);
    }
    banner.span = columns.length - banner.from;
  };
  walk(0);
  if (spec.totals.across || across.length === 1) put(0, "total", 0);
  return { columns, banners };
}

/** The words of a heading: its value as the workspace writes it, "others", "no island", or "All islands". */
export function headingWords(fields: AxisField[], heading: Heading, locale: Locale): string {
  const field = fields[heading.level - 1];
  if (!field) return fields[0] ? `All ${plural(groupNoun(fields[0]))}` : "All";
  if (heading.rest) return "others";
  if (heading.name !== undefined) return heading.name;
  if (heading.key === null) return `No ${lowered(field.heading)}`;
  return cellWriter(field.type, field.format, locale)(heading.key).text || "“”";
}

/** The lone figure of a pivot with its unit, where no heading above its columns names it; else nothing. */
export const loneFigure = ({ figures, axes }: Pivot): string =>
  figures.length === 1 && axes.across.length > 0 ? withUnit(figures[0]?.heading ?? "", figures[0]?.unit) : "";

/** The rows of headings that are shown above the columns: a lone figure needs no heading under its column's. */
export const bannerRows = (pivot: Pivot, { banners }: PivotLines): Banner[][] =>
  banners.filter((row, i) => row.length > 0 && (i < banners.length - 1 || pivot.figures.length > 1 || pivot.axes.across.length === 0));

/** The words of a heading above columns. @param units whether a figure's unit stands beside it: files for programs have plain names */
export function bannerWords(pivot: Pivot, banner: Banner, locale: Locale, units = true): string {
  const figure = banner.figure === null ? undefined : pivot.figures[banner.figure];
  if (figure) return units ? withUnit(figure.heading, figure.unit) : figure.heading;
  return banner.kind === "subtotal" ? "total" : headingWords(pivot.axes.across, pivot.across[banner.heading] as Heading, locale);
}

export function lineWords(pivot: Pivot, line: Line, locale: Locale): string {
  const words = headingWords(pivot.axes.down, pivot.down[line.heading] as Heading, locale);
  return line.kind === "subtotal" ? `${words}, total` : words;
}

/** The cell of a line and a column; empty where the line's figures stand elsewhere. */
export function cellAt(pivot: Pivot, line: Line, column: Column): Cell {
  return line.figures ? (pivot.cells[column.figure]?.[line.heading * pivot.across.length + column.heading] ?? null) : null;
}

/** What is done at a place of a pivot: a group is folded, shut or open, or the rows behind a figure are shown. */
export type PivotDeed = { does: "fold"; group: string } | { does: "rows"; line: Line; column: Column };

/**
 * What choosing a place of a pivot does.
 * @param row of the lines; -1 for the headings above the columns, of which the outermost group is taken
 * @param column -1 for the headings of the lines
 * @returns null where there is no group and no figure
 */
export function deedAt(pivot: Pivot, { lines, columns, banners }: PivotLines, { row, column }: { row: number; column: number }): PivotDeed | null {
  if (row < 0) {
    const group = banners.flat().find((b) => b.open !== null && column >= b.from && column < b.from + b.span);
    return group ? { does: "fold", group: shutKey("across", pivot.across, group.heading) } : null;
  }
  const line = lines[row];
  if (column < 0) return line && line.open !== null ? { does: "fold", group: shutKey("down", pivot.down, line.heading) } : null;
  const figure = columns[column];
  return line?.figures && figure ? { does: "rows", line, column: figure } : null;
}

/**
 * The lines whose figures in each column are the greatest and the least: of numbers written alike no other takes more room.
 * @returns by column; none where it has no number
 */
export function extremesOf(pivot: Pivot, lines: Line[], columns: Column[]): Line[][] {
  const width = pivot.across.length;
  const least = new Float64Array(columns.length).fill(Number.POSITIVE_INFINITY);
  const most = new Float64Array(columns.length).fill(Number.NEGATIVE_INFINITY);
  const atLeast: (Line | undefined)[] = new Array(columns.length);
  const atMost: (Line | undefined)[] = new Array(columns.length);
  const cells = columns.map((c) => pivot.cells[c.figure] ?? []);
  const headings = Int32Array.from(columns, (c) => c.heading);
  // Line by line, as the cells lie in memory: there may be millions.
  for (const line of lines) {
    if (!line.figures) continue;
    const row = line.heading * width;
    for (let c = 0; c < columns.length; c++) {
      const cell = (cells[c] as Cell[])[row + (headings[c] as number)];
      if (cell === null || cell === undefined) continue;
      const number = typeof cell === "number" ? cell : Number(cell);
      if (number < (least[c] as number)) {
        least[c] = number;
        atLeast[c] = line;
      }
      if (number > (most[c] as number)) {
        most[c] = number;
        atMost[c] = line;
      }
    }
  }
  return columns.map((_, c) => [atLeast[c], atMost[c]].flatMap((line) => line ?? []));
}

/** What the groups of a field are called: a date's are its periods. */
function groupNoun({ heading, format }: AxisField): string {
  const part = GROUP_PARTS.find((p) => p === format.date);
  return part ? GROUP_PART_WORDS[part] : lowered(heading);
}

const lowered = (words: string): string => (/^.[A-Z]/.test(words) ? words : words.charAt(0).toLowerCase() + words.slice(1));

/** The headings that lead to one, outermost first; none for the total. */
function stepHeadings(headings: Heading[], index: number): Heading[] {
  const path: Heading[] = [];
  for (let at = index; at > 0; at = headings[at]?.parent ?? 0) path.unshift(headings[at] as Heading);
  return path;
}

/** The words of the headings that lead to one. */
export const namesTo = (pivot: Pivot, side: "down" | "across", index: number, locale: Locale): string[] =>
  stepHeadings(pivot[side], index).map((h) => headingWords(pivot.axes[side], h, locale));

/** What a cell is called: the headings that lead to it, outermost first, and its figure. */
export const cellWords = (pivot: Pivot, line: Line, column: Column, locale: Locale): string =>
  [...namesTo(pivot, "down", line.heading, locale), ...namesTo(pivot, "across", column.heading, locale), pivot.figures[column.figure]?.heading ?? ""].join(
    " · ",
  );
