import type { Metrics } from "../report/page";
import type { Run } from "./fill";

/** A line of words: pieces from left to right, and how wide they are together, in points. */
export type WrappedLine = { pieces: Run[]; width: number };

/** A stretch that is not broken: words that touch, or the space between two. */
type Chunk = { pieces: Run[]; width: number; kind: "words" | "space" | "break" };

function chunksOf(runs: Run[], metrics: Metrics, size: number): Chunk[] {
  const chunks: Chunk[] = [];
  for (const run of runs)
    for (const text of run.text.match(/\n|[^\S\n\u00a0\u202f]+|[\S\u00a0\u202f]+/g) ?? []) {
      const kind = text === "\n" ? "break" : text.trim() === "" && !/[\u00a0\u202f]/.test(text) ? "space" : "words";
      const piece = { ...run, text: kind === "space" ? " " : text };
      const width = kind === "break" ? 0 : metrics.width(piece.text, run.font, size);
      const last = chunks.at(-1);
      if (kind === "words" && last?.kind === "words") {
        last.pieces.push(piece);
        last.width += width;
      } else chunks.push({ pieces: [piece], width, kind });
    }
  return chunks;
}

/** A word wider than the line, cut where it must be. */
function cut(chunk: Chunk, width: number, metrics: Metrics, size: number): Chunk[] {
  const parts: Chunk[] = [];
  for (const run of chunk.pieces)
    for (const character of run.text) {
      const w = metrics.width(character, run.font, size);
      const last = parts.at(-1);
      if (!last || last.width + w > width) parts.push({ pieces: [{ ...run, text: character }], width: w, kind: "words" });
      else {
        const piece = last.pieces.at(-1);
        if (piece && piece.font === run.font && piece.tone === run.tone) piece.text += character;
        else last.pieces.push({ ...run, text: character });
        last.width += w;
      }
    }
  return parts;
}

const merged = (pieces: Run[]): Run[] => {
  const out: Run[] = [];
  for (const piece of pieces) {
    const last = out.at(-1);
    if (last && last.font === piece.font && last.tone === piece.tone) last.text += piece.text;
    else out.push({ ...piece });
  }
  return out;
};

/**
 * Breaks words into lines no wider than so many points: at spaces, at line breaks, and within a word only where it is
 * wider than a line by itself. A space that ends a line is dropped; one that may not break (U+00A0) never ends one.
 * @returns at least one line, which may be empty
 */
export function wrapRuns(runs: Run[], width: number, metrics: Metrics, size: number): WrappedLine[] {
  const lines: WrappedLine[] = [{ pieces: [], width: 0 }];
  let space: Chunk | null = null;
  const place = (chunk: Chunk) => {
    let line = lines.at(-1) as WrappedLine;
    const before: number = space?.width ?? 0;
    if (line.pieces.length > 0 && line.width + before + chunk.width > width) {
      line = { pieces: [], width: 0 };
      lines.push(line);
    } else if (space && line.pieces.length > 0) {
      line.pieces.push(...space.pieces);
      line.width += before;
    }
    space = null;
    line.pieces.push(...chunk.pieces);
    line.width += chunk.width;
  };
  for (const chunk of chunksOf(runs, metrics, size)) {
    if (chunk.kind === "space") space = chunk;
    else if (chunk.kind === "break") {
      lines.push({ pieces: [], width: 0 });
      space = null;
    } else for (const part of chunk.width > width ? cut(chunk, width, metrics, size) : [chunk]) place(part);
  }
  return lines.map((line) => ({ ...line, pieces: merged(line.pieces) }));
}
