import type { PlanColumn } from "../query/plan";
import type { Cell } from "../types/valueType";
import type { CarryEnd, ReportChecks } from "./checks";
import { toneOf, wordsOf } from "./draft";
import type { Carry, Piece } from "./fillPages";
import { SIZE, type Tag } from "./page";
import { type LaidColumn, LINE } from "./table";
import type { Tally } from "./tally";

/** A column whose total is carried, and what adds it up. */
export type CarriedColumn = { column: LaidColumn; tally: () => Tally };

/** Where the lines of what is carried stand, and what they are to those who have them read to them. */
type At = { left: number; right: number; tag: () => Tag };

/** Totals of some columns over the rows placed so far, carried forward at each page's end and brought forward on the next. */
export class RunningCarry implements Carry {
  readonly height = LINE;
  private readonly all: Tally[];
  private page: Tally[];
  private rows = 0;
  private last: Cell[] | null = null;

  constructor(
    private readonly columns: CarriedColumn[],
    private readonly at: At,
    private readonly checks: ReportChecks,
  ) {
    this.all = columns.map((c) => c.tally());
    this.page = columns.map((c) => c.tally());
  }

  /** A row was placed. */
  add(row: Cell[]): void {
    this.rows++;
    for (const [i, { column }] of this.columns.entries()) {
      this.all[i]?.add(row[column.at] ?? null, row);
      this.page[i]?.add(row[column.at] ?? null, row);
    }
  }

  begun = (): boolean => this.rows > 0;

  forward(): Piece {
    const cells = this.all.map((t) => t.figure("total"));
    const columns = this.columns.map(({ column }): PlanColumn => column.column);
    this.checks.carry(
      columns,
      this.last,
      this.page.map((t) => t.figure("total")),
      cells,
    );
    this.page = this.columns.map((c) => c.tally());
    this.last = cells;
    return this.piece("Carried forward", cells);
  }

  brought = (): Piece => this.piece("Brought forward", this.last ?? []);

  private piece(words: string, cells: Cell[]): Piece {
    const { left, right, tag } = this.at;
    return {
      kind: "piece",
      height: LINE,
      draw: (draft, y) => {
        const own = tag();
        draft.text(left, y + LINE - 4, words, "sansItalic", SIZE.body, "ink", own);
        for (const [i, { column }] of this.columns.entries()) {
          const written = column.write(cells[i] ?? null);
          draft.put(column, y + LINE - 4, wordsOf(written), "sansItalic", toneOf(written), own);
        }
        draft.area(left, y, right - left, LINE, { kind: "carried" });
      },
    };
  }

  ends(): CarryEnd[] {
    return this.columns.map(({ column }, i) => ({
      column,
      cell: this.all[i]?.figure("total") ?? null,
      brought: this.last?.[i] ?? null,
      since: this.page[i]?.figure("total") ?? null,
    }));
  }
}
