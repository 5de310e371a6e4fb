import type { Cell } from "../types/valueType";
import type { Draft } from "./draft";

/*
 * Pieces become pages. A piece is drawn whole on one page. One that is joined to the next stands with it; what belongs
 * together (a group, a table) says what stands again where it goes on over a page's end.
 */

export type Piece = {
  kind: "piece";
  height: number;
  draw: (draft: Draft, y: number) => void;
  /** Stands on one page with the next piece. */
  joined?: boolean | undefined;
  /** Across the whole page, above its columns. */
  wide?: boolean | undefined;
  /** The row it is of, for fields in headers and footers. */
  row?: Cell[] | undefined;
  /** Told the page it stands on. */
  placed?: ((page: number) => void) | undefined;
  /** Lines it can be parted into where it is higher than a page. */
  parts?: (() => Piece[]) | undefined;
};

/** Totals carried over a page's end. */
export type Carry = {
  height: number;
  /** Whether there is anything to carry. */
  begun: () => boolean;
  forward: () => Piece;
  brought: () => Piece;
};

/** What goes on over a page's end: what stands again there, and what is carried. */
export type Stretch = {
  again?: (() => Piece[]) | undefined;
  carry?: Carry | undefined;
  keepWhole?: boolean | undefined;
  /** Told when all its pieces stand on pages. */
  ended?: (() => void) | undefined;
};

export type Flow =
  | Piece
  | { kind: "open"; stretch: Stretch }
  | { kind: "close" }
  /** What follows begins a page; with `restart` its pages are numbered anew. */
  | { kind: "break"; restart: boolean };

/** A place on a page that pieces fill from the top down. */
export type Slot = { dx: number; top: number; bottom: number };

/** How pages are begun and ended. */
export type Pages = {
  start: (number: number) => { draft: Draft; slots: Slot[] };
  /** @param about the first row on the page, and its place among those numbered with it: from 0, of which such */
  end: (draft: Draft, about: { row: Cell[] | null; run: number; inRun: number }) => void;
};

/** How many pages are numbered together, in order, and how many pieces were higher than a page. */
export type FillReport = { runs: number[]; cut: number };

class Filler {
  private readonly queue: Flow[] = [];
  private readonly open: Stretch[] = [];
  private ended = false;
  private draft: Draft | null = null;
  private slots: Slot[] = [];
  private slot = 0;
  /** Where pieces begin on a page that nothing stands on. */
  private top = 0;
  private y = 0;
  /** Whether anything but what stands again is on the slot. */
  private filled = false;
  private number = 0;
  private row: Cell[] | null = null;
  readonly runs: number[] = [0];
  readonly done: Draft[] = [];
  cut = 0;

  constructor(
    private readonly source: Iterator<Flow>,
    private readonly pages: Pages,
  ) {}

  private peek(at: number): Flow | null {
    while (this.queue.length <= at && !this.ended) {
      const next = this.source.next();
      if (next.done) this.ended = true;
      else this.queue.push(next.value);
    }
    return this.queue[at] ?? null;
  }

  private get bottom(): number {
    return this.slots[this.slot]?.bottom ?? 0;
  }

  private startPage(): void {
    const { draft, slots } = this.pages.start(++this.number);
    this.draft = draft;
    this.slots = slots;
    this.top = Math.min(...slots.map((s) => s.top));
    this.row = null;
    this.runs[this.runs.length - 1] = (this.runs.at(-1) ?? 0) + 1;
    this.enter(0);
  }

  private enter(slot: number): void {
    this.slot = slot;
    this.y = this.slots[slot]?.top ?? 0;
    if (this.draft) {
      this.draft.dx = this.slots[slot]?.dx ?? 0;
      this.draft.fresh = true;
    }
    this.filled = false;
  }

  private endPage(): void {
    if (!this.draft) return;
    this.draft.dx = 0;
    this.pages.end(this.draft, { row: this.row, run: this.runs.length - 1, inRun: (this.runs.at(-1) ?? 1) - 1 });
    this.done.push(this.draft);
    this.draft = null;
  }

  private put(piece: Piece): void {
    if (!this.draft) this.startPage();
    piece.placed?.(this.number);
    if (piece.row && this.row === null) this.row = piece.row;
    piece.draw(this.draft as Draft, this.y);
    this.y += piece.height;
    if (piece.wide) for (const s of this.slots) s.top = Math.max(s.top, this.y);
  }

  /** What is carried here: that of the innermost stretch that carries. */
  private carry(): Carry | undefined {
    return this.open.findLast((s) => s.carry)?.carry;
  }

  /** Goes on to the next place, with what stands again there. @param page to the next page, whatever places are left on this one */
  private advance(page = false): void {
    const carry = this.carry();
    const carried = carry?.begun() ? carry : undefined;
    if (carried && this.draft) this.put(carried.forward());
    if (!page && this.draft && this.slot + 1 < this.slots.length) this.enter(this.slot + 1);
    else {
      this.endPage();
      this.startPage();
    }
    for (const stretch of this.open) for (const piece of stretch.again?.() ?? []) this.put(piece);
    if (carried) this.put(carried.brought());
    this.filled = false;
  }

  /** Whether so much does not fit under what stands here. */
  private over(height: number): boolean {
    return this.y + height > this.bottom + 0.01;
  }

  /**
   * The height of a stretch up to its end, with what stands together with its last piece; null where it is more than a
   * place holds.
   */
  private wholeHeight(): { own: number; joined: number; last: Piece | null } | null {
    let [own, joined, depth] = [0, 0, 0];
    let last: Piece | null = null;
    for (let at = 0; ; at++) {
      const flow = this.peek(at);
      if (!flow || (flow.kind === "break" && depth > 0)) return flow ? null : { own, joined, last };
      if (flow.kind === "open") depth++;
      else if (flow.kind === "close") depth--;
      else if (flow.kind === "piece" && depth > 0) {
        own += flow.height;
        last = flow;
      } else if (flow.kind === "piece") joined += flow.height;
      if (depth <= 0 && (flow.kind === "break" || !last?.joined || (flow.kind === "piece" && !flow.joined))) return { own, joined, last };
      if (own > this.bottom) return null;
    }
  }

  /** The pieces that stand together, from the next on, and the room that what is carried past them needs under them. */
  private together(): { height: number; count: number; reserve: number } {
    const open = [...this.open];
    for (let [height, at] = [0, 0]; ; at++) {
      const flow = this.peek(at);
      if (!flow || flow.kind === "break") return { height, count: at, reserve: 0 };
      if (flow.kind === "open") open.push(flow.stretch);
      else if (flow.kind === "close") open.pop();
      else {
        height += flow.height;
        if (!flow.joined) return { height, count: at + 1, reserve: this.carriedAfter(at, open) };
      }
    }
  }

  /** The height of what is carried if a page ends behind a flow; none where it comes to its end right there. */
  private carriedAfter(at: number, open: Stretch[]): number {
    const left = [...open];
    for (let next = at + 1; this.peek(next)?.kind === "close"; next++) left.pop();
    return left.findLast((s) => s.carry)?.carry?.height ?? 0;
  }

  /** One piece by itself, in parts where it is higher than a place. */
  private place(piece: Piece): void {
    const carry = this.carry();
    if (this.draft && this.over(piece.height + (carry?.height ?? 0)) && this.filled) this.advance();
    if (!this.draft) this.startPage();
    if (!this.over(piece.height)) this.put(piece);
    else {
      const parts = piece.parts?.() ?? [];
      if (parts.length > 1) {
        for (const part of parts) this.place(part);
        return;
      }
      this.cut++;
      this.put(piece);
    }
    this.filled = true;
  }

  /** Takes the next of what flows. @returns whether there was any */
  step(): boolean {
    const flow = this.peek(0);
    if (!flow) {
      if (this.number === 0) this.startPage();
      this.endPage();
      return false;
    }
    switch (flow.kind) {
      case "break":
        this.queue.shift();
        if (this.draft && (this.filled || this.slot > 0)) this.advance(true);
        if (flow.restart && this.draft) this.restart();
        return true;
      case "open":
        if (flow.stretch.keepWhole) this.keepWhole();
        this.open.push(flow.stretch);
        this.queue.shift();
        return true;
      case "close":
        this.open.pop()?.ended?.();
        this.queue.shift();
        return true;
      case "piece":
        this.placeTogether();
        return true;
      default:
        return flow satisfies never;
    }
  }

  /** The page that was just begun is the first of those numbered anew. */
  private restart(): void {
    const last = this.runs.length - 1;
    if ((this.runs[last] ?? 0) === 1 && this.number === 1) return;
    this.runs[last] = (this.runs[last] ?? 1) - 1;
    this.runs.push(1);
  }

  private keepWhole(): void {
    if (!this.draft) this.startPage();
    const whole = this.wholeHeight();
    const room = this.room();
    if (!whole || whole.own > room) return;
    const together = whole.own + whole.joined;
    // What would stand with its end gives way where both do not fit on one page.
    if (together > room && whole.last) whole.last.joined = false;
    if (this.filled && this.over(together > room ? whole.own : together)) this.advance();
  }

  /** What a new place would hold, under what stands again there. */
  private room(): number {
    const again = this.open.flatMap((s) => s.again?.() ?? []).reduce((sum, p) => sum + p.height, 0);
    const next = this.slots[this.slot + 1];
    return (next ? next.bottom - next.top : this.bottom - this.top) - again - (this.carry()?.begun() ? (this.carry()?.height ?? 0) : 0);
  }

  private placeTogether(): void {
    if (!this.draft) this.startPage();
    const { height, count, reserve } = this.together();
    if (this.over(height + reserve) && this.filled) this.advance();
    const fits = !this.over(height);
    for (let taken = 0; taken < count; taken++) {
      const flow = this.queue.shift();
      if (!flow) return;
      if (flow.kind === "open") this.open.push(flow.stretch);
      else if (flow.kind === "close") this.open.pop()?.ended?.();
      else if (flow.kind === "piece") {
        if (fits) {
          this.put(flow);
          this.filled = true;
        } else this.place(flow);
      }
    }
  }
}

/** Fills pages with what flows, one page at a time, so that any number of them takes the memory of a few. */
export function* fillPages(source: Iterator<Flow>, pages: Pages): Generator<Draft, FillReport> {
  const filler = new Filler(source, pages);
  let more = true;
  while (more) {
    more = filler.step();
    yield* filler.done.splice(0);
  }
  return { runs: filler.runs, cut: filler.cut };
}
