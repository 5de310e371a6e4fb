import { linesOf } from "../pivot/lines";
import { LINE, measurePivot, PanelDrawing, panelsOf } from "../pivot/panels";
import type { Cell } from "../types/valueType";
import type { Flow, Piece } from "./fillPages";
import type { FlowSetting, OpenGroup } from "./flowSetting";
import { POINTS_PER_MM } from "./frame";
import type { Inserted } from "./inserts";
import { SIZE } from "./page";
import type { Insert } from "./spec";
import { INDENT } from "./table";

/* A chart or a cross-table of a group's rows, among the rows and footings of a report. */

const TITLE_LINE = 18;
const AFTER = 8;

/** The pieces of an insert; none where the group has no rows. */
export function* insertFlow(setting: FlowSetting, insert: Insert, opened: OpenGroup, keys: Cell[]): Generator<Flow> {
  const inserted = setting.inserted(insert, keys);
  opened.inserted.push({ rows: inserted.rows, agrees: inserted.kind === "chart" || inserted.pivot.proof.agrees });
  if (inserted.rows === 0) return;
  const left = setting.left + Math.max(0, opened.group.depth - 1) * INDENT;
  const level = opened.level?.spec.id ?? "";
  const titled = (words: string): Piece => titlePiece(setting, insert, words, left, level, Math.min(6, opened.group.depth + 2));
  if (inserted.kind === "chart") {
    yield titled(inserted.title);
    yield chartPiece(setting, insert, inserted, left, level);
    return;
  }
  const measured = measurePivot({ pivot: inserted.pivot, lines: linesOf(inserted.pivot, inserted.spec), metrics: setting.metrics, locale: setting.locale });
  for (const [n, panel] of panelsOf(measured, setting.right - left).entries()) {
    const table = setting.nextTable();
    const drawing = new PanelDrawing(measured, panel, left, (head) => setting.nextRow(table, head));
    const words = n === 0 ? inserted.title : `${inserted.title}, more columns`;
    const heads: Piece = {
      kind: "piece",
      height: drawing.headHeight + 6,
      joined: true,
      draw: (draft, y) => {
        draft.add(drawing.heads(y));
        draft.area(left, y, setting.right - left, drawing.headHeight, { kind: "insert", id: insert.id, level });
      },
    };
    yield { kind: "open", stretch: { again: () => [titled(`${words}, continued`), heads] } };
    yield titled(words);
    yield heads;
    const { lines } = measured.lines;
    for (const [i, line] of lines.entries())
      yield {
        kind: "piece",
        height: i === lines.length - 1 ? LINE + AFTER : LINE,
        // The total does not stand without a line above it.
        joined: i === lines.length - 2,
        draw: (draft, y) => draft.add(drawing.line(line, y + LINE - 3)),
      };
    yield { kind: "close" };
  }
}

const titlePiece = (setting: FlowSetting, insert: Insert, words: string, left: number, level: string, heading: number): Piece => ({
  kind: "piece",
  height: TITLE_LINE,
  joined: true,
  draw: (draft, y) => {
    draft.text(left, y + 13, words, "sansBold", SIZE.heading, "ink", { kind: "heading", level: heading });
    draft.area(left, y, setting.right - left, TITLE_LINE, { kind: "insert", id: insert.id, level });
  },
});

function chartPiece(setting: FlowSetting, insert: Insert, { picture, title }: Extract<Inserted, { kind: "chart" }>, left: number, level: string): Piece {
  const width = setting.right - left;
  const height = insert.heightMm * POINTS_PER_MM;
  return {
    kind: "piece",
    height: height + AFTER,
    draw: (draft, y) => {
      // What is only gone through to count pages needs no picture.
      if (draft.wanted) draft.picture(left, y, width, height, picture(width, height), title);
      draft.area(left, y, width, height, { kind: "insert", id: insert.id, level });
    },
  };
}
