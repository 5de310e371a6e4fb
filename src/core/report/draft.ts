import type { Written } from "../types/format";
import type { Area, Font, Metrics, Page, PageItem, Part, Tag, Tone } from "./page";
import { SIZE } from "./page";

/** A place for a value: its column on the paper. */
export type Place = { x: number; width: number; right: boolean };

/** A page while it is drawn. What is drawn is moved aside by `dx`, as in columns down the page. */
export class Draft {
  readonly items: PageItem[] = [];
  readonly areas: Area[] = [];
  dx = 0;
  /** Whether no row was drawn yet where the next would stand: then nothing is left out as said above. */
  fresh = true;

  /** @param wanted whether what is drawn is looked at: pages that are only gone through are not */
  constructor(
    readonly number: number,
    private readonly size: { width: number; height: number },
    readonly metrics: Metrics,
    readonly wanted = true,
  ) {}

  /** Items whose places are those of the page's first column. */
  add(items: PageItem[]): void {
    for (const item of items)
      this.items.push({ ...item, x: item.x + this.dx, ...(item.kind === "text" && item.end !== undefined ? { end: item.end + this.dx } : {}) });
  }

  text(x: number, y: number, text: string, font: Font, size: number, tone: Tone = "ink", tag?: Tag): void {
    if (text !== "") this.items.push({ kind: "text", x: x + this.dx, y, text, font, size, tone, ...(tag ? { tag } : {}) });
  }

  rule(x: number, y: number, width: number, weight: number): void {
    this.items.push({ kind: "rule", x: x + this.dx, y, width, weight });
  }

  picture(x: number, y: number, width: number, height: number, png: string, alt: string): void {
    this.items.push({ kind: "picture", x: x + this.dx, y, width, height, png, alt });
  }

  area(x: number, y: number, width: number, height: number, part: Part): void {
    this.areas.push({ x: x + this.dx, y, width, height, part });
  }

  /** A text in a column's place: figures flush right and never cut (set smaller if need be), words shortened with an ellipsis. */
  put({ x, width, right }: Place, y: number, words: string, font: Font, tone: Tone, tag?: Tag): void {
    if (words === "") return;
    const natural = this.metrics.width(words, font, SIZE.body);
    if (!right) return this.text(x, y, natural <= width ? words : shortened(words, width, font, this.metrics), font, SIZE.body, tone, tag);
    const size = natural <= width ? SIZE.body : (SIZE.body * width) / natural;
    const end = x + width + this.dx;
    this.items.push({ kind: "text", x: end - Math.min(natural, width), y, text: words, font, size, tone, end, ...(tag ? { tag } : {}) });
  }

  /** A text that ends at a place. */
  textTo(end: number, y: number, text: string, font: Font, size: number, tone: Tone): void {
    if (text === "") return;
    const to = end + this.dx;
    this.items.push({ kind: "text", x: to - this.metrics.width(text, font, size), y, text, font, size, tone, end: to });
  }

  page(): Page {
    return { number: this.number, ...this.size, items: this.items, areas: this.areas };
  }
}

/** A value in words; what does not fit its type stands in quotation marks. */
export const wordsOf = ({ text, misfit }: Written): string => (misfit ? `“${text}”` : text);
export const toneOf = ({ negative, misfit }: Written): Tone => (negative || misfit ? "vermilion" : "ink");

/** Words cut to a width, with an ellipsis. */
export function shortened(words: string, width: number, font: Font, metrics: Metrics, size = SIZE.body): string {
  let kept = words.length;
  while (kept > 1 && metrics.width(`${words.slice(0, kept)}…`, font, size) > width) kept--;
  return `${words.slice(0, kept).trimEnd()}…`;
}

/** Words in lines of a width; a word that is longer than a line is cut into several. Lines of their own stay so. */
export function wrapped(words: string, width: number, metrics: Metrics, size: number, font: Font = "sans"): string[] {
  return words.split("\n").flatMap((paragraph) => {
    const lines: string[] = [];
    let line = "";
    for (const word of paragraph.split(/\s+/)) {
      const longer = line ? `${line} ${word}` : word;
      if (metrics.width(longer, font, size) <= width) line = longer;
      else {
        if (line) lines.push(line);
        line = word;
        while (line.length > 1 && metrics.width(line, font, size) > width) {
          let kept = line.length - 1;
          while (kept > 1 && metrics.width(line.slice(0, kept), font, size) > width) kept--;
          lines.push(line.slice(0, kept));
          line = line.slice(kept);
        }
      }
    }
    return [...lines, line];
  });
}
