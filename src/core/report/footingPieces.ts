import { type CellWriter, cellWriter } from "../types/format";
import type { Cell } from "../types/valueType";
import { GRAND } from "./choices";
import { type Draft, toneOf, wordsOf } from "./draft";
import { standsAt } from "./figuresPlan";
import type { Piece } from "./fillPages";
import type { FlowSetting, OpenGroup } from "./flowSetting";
import { type Part, SIZE, type Tag } from "./page";
import type { FootingLine } from "./spec";
import { headingText, INDENT, LINE } from "./table";
import { COLUMN_GAP } from "./widths";
import { footingWords, rowsOfGroup } from "./words";

/* The lines of footings of a group, or of all rows, as pieces. */

const NOTHING = { text: "", negative: false, misfit: false };
const UNKNOWN = "…";

/** What writes the figures of each depth. */
export const figureWriters = ({ report, locale }: Pick<FlowSetting, "report" | "locale">): CellWriter[][] =>
  report.figures.map((f) => f.plan.columns.map((c) => cellWriter(c.type, c.format, locale)));

/** Whether lines stand under the groups of a depth, or over them. */
export const linesAt = ({ report }: FlowSetting, depth: number, before: boolean): FootingLine[] =>
  report.spec.lines.filter((l) => (l.before === true) === before && standsAt(l, report.levels[depth - 1]?.spec.id ?? GRAND));

/** @param glued whether the last of them stands with what comes next: a footing with that of the group around it */
export function footingPieces(setting: FlowSetting, opened: OpenGroup, before: boolean, glued: boolean): Piece[] {
  const { depth } = opened.group;
  const lines = linesAt(setting, depth, before);
  return lines.map((line, n): Piece => {
    const last = n === lines.length - 1;
    const closing = depth === 0 && !before && last;
    return {
      kind: "piece",
      height: LINE + (closing ? 8 : 0),
      joined: before || !last || glued,
      placed: (page) => {
        if (closing) setting.total(page);
        // Without a heading, a group stands where its footing does.
        if (opened.entry?.page === 0) opened.entry.page = page;
      },
      draw: (draft, y) => {
        drawLine(setting, draft, y, opened, line, n === 0 && !before);
        if (!closing) return;
        draft.rule(setting.left, y + LINE, setting.right - setting.left, 0.5);
        draft.rule(setting.left, y + LINE + 2, setting.right - setting.left, 0.5);
      },
    };
  });
}

function drawLine(setting: FlowSetting, draft: Draft, y: number, opened: OpenGroup, line: FootingLine, ruled: boolean): void {
  const { metrics, locale, left, right, tabled } = setting;
  const { group, level } = opened;
  const font = group.depth === 0 ? "sansBold" : "sansItalic";
  const tag = setting.nextRow();
  const base = y + LINE - 3;
  const from = left + group.depth * INDENT;
  const part = (column: string | null): Part => ({ kind: "footing", line: line.id, level: level?.spec.id ?? GRAND, column, keys: group.keys });
  const figures = figuresOf(setting, opened, line);
  if (ruled) draft.rule(from, base - 10, right - from, 0.5);
  const words = line.text === "" ? footingWords(level ? opened.words : null, rowsOfGroup(setting.report, group), locale) : setting.text(line.text, opened);
  const first = tabled ? setting.columns.find((c) => figures.get(c.id)?.words) : undefined;
  // A figure stands at the right of its column, and leaves the rest of it to the text.
  const taken = first?.right ? Math.min(first.width, metrics.width(figures.get(first.id)?.words ?? "", font, SIZE.body)) : (first?.width ?? 0);
  const room = (first ? first.x + first.width - taken - COLUMN_GAP : right) - from;
  const width = metrics.width(words, font, SIZE.body);
  draft.put({ x: from, width: width <= room ? width + 1 : Math.max(room, 40), right: false }, base, words, font, "ink", tag);
  draft.area(from, y, Math.max(room, 40), LINE, part(null));
  if (!tabled) return drawInLine(setting, draft, base, figures, font, tag, from + Math.min(width, room) + COLUMN_GAP * 2);
  for (const c of setting.columns) {
    const figure = figures.get(c.id);
    if (!figure) continue;
    draft.put(c, base, figure.words, font, figure.tone, tag);
    draft.area(c.x, y, c.width, LINE, part(c.id));
  }
}

type Figure = { words: string; tone: ReturnType<typeof toneOf> };

/** The figures of a line, by the columns they stand under. Before the rows they are known only where they were read. */
function figuresOf({ report, writers }: FlowSetting, { group }: OpenGroup, line: FootingLine): Map<string, Figure> {
  const places = report.figures[group.depth]?.cells[line.id] ?? {};
  const cells: Cell[] | null = group.read ?? (line.before ? null : group.recounted());
  return new Map(
    Object.entries(places).map(([column, at]): [string, Figure] => {
      const written = cells === null ? { ...NOTHING, text: UNKNOWN } : (writers[group.depth]?.[at]?.(cells[at] ?? null) ?? NOTHING);
      return [column, { words: wordsOf(written), tone: toneOf(written) }];
    }),
  );
}

/** Without columns the figures stand one after the other, behind the text. */
function drawInLine(
  { columns, right }: FlowSetting,
  draft: Draft,
  base: number,
  figures: Map<string, Figure>,
  font: "sansBold" | "sansItalic",
  tag: Tag,
  from: number,
): void {
  const words = columns.flatMap((c) => (figures.has(c.id) ? [`${headingText(c.column)} ${figures.get(c.id)?.words}`] : []));
  if (words.length > 0) draft.put({ x: from, width: right - from, right: false }, base, words.join(" · "), font, "ink", tag);
}
