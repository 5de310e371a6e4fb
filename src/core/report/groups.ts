import type { Cell } from "../types/valueType";
import { isMisfit } from "../types/valueType";
import type { ReportPlan } from "./plan";
import { FigureRecount } from "./recount";

/*
 * Rows in the order of their groups, told as they come: a group begins, a row, a group ends. Figures of groups are read
 * beside them in the same order; each is also taken of the rows themselves.
 */

/** A group while its rows come; the whole report is one, around all others. */
export type Group = {
  /** 0 is the whole report. */
  depth: number;
  keys: Cell[];
  /** Its first row; of a group that no row makes, one with its keys alone. */
  first: Cell[];
  /** The figures as they were read; null where they are taken of the rows alone. */
  read: Cell[] | null;
  /** Those told so far; all of them once it has ended. */
  rows: number;
  ended: boolean;
  /** The figures of the rows so far. */
  recounted: () => Cell[];
};

export type Told = { kind: "open"; group: Group } | { kind: "row"; row: Cell[]; last: boolean } | { kind: "close"; group: Group };

/** The rows, and the figures of the groups of a depth (0 is all rows), in the order of the groups. */
export type Sources = { rows: Iterable<Cell[]>; figures: ((depth: number) => Iterable<Cell[]>) | null };

/** Thrown where figures and rows, read of one moment, tell of different groups. */
export class GroupsDiffer extends Error {
  constructor() {
    super("The groups differ from their rows. Run the report again.");
    this.name = "GroupsDiffer";
  }
}

const keyCell = (cell: Cell | undefined): Cell => (cell === undefined || isMisfit(cell) ? null : cell);
const sameCells = (a: Cell[], b: Cell[]): boolean => a.every((cell, i) => String(cell) === String(b[i] ?? null));

/** A reader of rows one ahead. */
class Ahead<T> {
  next: T | null = null;
  private readonly iterator: Iterator<T>;

  constructor(source: Iterable<T>) {
    this.iterator = source[Symbol.iterator]();
    this.advance();
  }

  advance(): T | null {
    const taken = this.next;
    const found = this.iterator.next();
    this.next = found.done ? null : found.value;
    return taken;
  }

  close(): void {
    this.iterator.return?.();
  }
}

/** Tells the groups and rows of a report in order. @throws GroupsDiffer */
export function* tellGroups(report: ReportPlan, sources: Sources): Generator<Told> {
  const { levels, figures, rows: plan } = report;
  const depth = levels.length;
  const rows = new Ahead(sources.rows);
  const read = sources.figures ? figures.map((_, d) => new Ahead(sources.figures?.(d) ?? [])) : null;
  const recounts = figures.map((f) => new FigureRecount(f, plan));
  try {
    yield* told();
  } finally {
    rows.close();
    for (const r of read ?? []) r.close();
  }

  function keysOf(row: Cell[], d: number): Cell[] {
    return levels.slice(0, d).flatMap((l) => l.places.map((at) => keyCell(row[at])));
  }

  function open(d: number, keys: Cell[], first: Cell[]): { group: Group; add: (row: Cell[]) => void } {
    const lines = read?.[d];
    const line = lines?.advance() ?? null;
    const own = figures[d];
    if (lines && (!line || !sameCells(keys, own?.keys.map((at) => keyCell(line[at])) ?? []))) throw new GroupsDiffer();
    const tally = recounts[d]?.start(keys);
    const group: Group = { depth: d, keys, first, read: line, rows: 0, ended: false, recounted: () => tally?.cells() ?? [] };
    return { group, add: (row) => tally?.add(row) };
  }

  /** What makes the next innermost group: of the figures, which also tell of groups without rows, else of the rows. */
  function nextKeys(): Cell[] | null {
    const line = read?.[depth]?.next;
    if (read && depth > 0) return line ? (figures[depth]?.keys.map((at) => keyCell(line[at])) ?? []) : null;
    return rows.next ? keysOf(rows.next, depth) : null;
  }

  /** A row with nothing but the keys of a group that no row makes. */
  function bare(keys: Cell[]): Cell[] {
    const row: Cell[] = new Array(plan.columns.length).fill(null);
    levels
      .flatMap((l) => l.places)
      .forEach((at, i) => {
        row[at] = keys[i] ?? null;
      });
    return row;
  }

  function* told(): Generator<Told> {
    const all = open(0, [], rows.next ?? bare([]));
    yield { kind: "open", group: all.group };
    const stack = [all];
    /** How many keys the levels up to a depth have. */
    const keyCount = levels.map((_, i) => levels.slice(0, i + 1).reduce((sum, l) => sum + l.places.length, 0));
    for (let keys = nextKeys(); keys !== null; keys = nextKeys()) {
      const own = keys;
      const first = rows.next && sameCells(own, keysOf(rows.next, depth)) ? rows.next : bare(own);
      const changed = levels.findIndex((_, i) => stack[i + 1] === undefined || !sameCells(own.slice(0, keyCount[i]), stack[i + 1]?.group.keys ?? []));
      const from = changed < 0 ? depth : changed;
      while (stack.length > from + 1) yield close();
      for (let d = from + 1; d <= depth; d++) {
        const opened = open(d, own.slice(0, keyCount[d - 1]), first);
        stack.push(opened);
        yield { kind: "open", group: opened.group };
      }
      for (let row = rows.next; row && sameCells(own, keysOf(row, depth)); row = rows.next) {
        rows.advance();
        for (const { group, add } of stack) {
          group.rows++;
          add(row);
        }
        yield { kind: "row", row, last: !rows.next || !sameCells(own, keysOf(rows.next, depth)) };
      }
    }
    if (rows.next) throw new GroupsDiffer();
    while (stack.length > 0) yield close();

    function close(): Told {
      const { group } = stack.pop() as (typeof stack)[number];
      group.ended = true;
      return { kind: "close", group };
    }
  }
}
