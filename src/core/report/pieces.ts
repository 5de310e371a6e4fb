import { wrapped } from "./draft";
import type { Piece } from "./fillPages";
import type { Metrics, Part, Tag, Tone } from "./page";
import { SIZE } from "./page";
import { headingText, type LaidColumn, LINE } from "./table";

/* Pieces that stand in the table of a report and in tables of related rows alike. */

const HEADS = 18;
const PASSAGE_LINE = 12;

/** The headings of columns over a rule. @param part what a column's heading belongs to */
export function headsPiece(columns: LaidColumn[], left: number, right: number, tag: Tag, part: (column: string) => Part): Piece {
  return {
    kind: "piece",
    height: HEADS,
    draw: (draft, y) => {
      for (const c of columns) {
        draft.put(c, y + 11, headingText(c.column), "sansBold", "ink", tag);
        draft.area(c.x, y, c.width, HEADS - 1, part(c.id));
      }
      draft.rule(left, y + 15, right - left, 0.9);
    },
  };
}

/** A line that says something of a table in place of its rows. */
export const notePiece = (words: string, left: number, tone: Tone): Piece => ({
  kind: "piece",
  height: LINE,
  joined: true,
  draw: (draft, y) => draft.text(left, y + LINE - 3, words, "sansItalic", SIZE.body, tone, { kind: "paragraph" }),
});

/** A passage of text in lines. Neither its first nor its last line stands alone. @param joined whether it stands with what follows */
export function passagePieces(
  text: string,
  { left, right, align, id, joined }: { left: number; right: number; align: "left" | "center" | "right"; id: string; joined: boolean },
  metrics: Metrics,
): Piece[] {
  const lines = wrapped(text, right - left, metrics, SIZE.body);
  return lines.map((line, i): Piece => {
    const last = i === lines.length - 1;
    return {
      kind: "piece",
      height: PASSAGE_LINE + (last ? 4 : 0),
      joined: last ? joined : i === 0 || i === lines.length - 2,
      draw: (draft, y) => {
        const free = right - left - metrics.width(line, "sans", SIZE.body);
        const x = left + (align === "right" ? free : align === "center" ? free / 2 : 0);
        draft.text(x, y + 9, line, "sans", SIZE.body, "ink", { kind: "paragraph" });
        if (i === 0) draft.area(left, y, right - left, lines.length * PASSAGE_LINE, { kind: "passage", id });
      },
    };
  });
}
