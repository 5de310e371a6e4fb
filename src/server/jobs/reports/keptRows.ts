import { closeSync, mkdtempSync, openSync, readSync, rmSync, writeSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { deserialize, serialize } from "node:v8";
import type { Cell } from "@/core/types/valueType";

/*
 * Rows that are gone through several times, asked of the database once: what a report is measured, counted and printed by.
 * Few are kept in memory; more lie in a file that nobody else sees, and that goes with the process.
 */

/** So many cells are kept in memory; behind them, rows lie in the file by the thousand. */
const CELLS_IN_MEMORY = 400_000;
const ROWS_AT_ONCE = 1000;

export class KeptRows implements Iterable<Cell[]> {
  private rows: Cell[][] = [];
  private spool: Spool | null = null;
  private state: "none" | "taking" | "whole" | "tooMany" = "none";

  /** @param ask asks for the rows; it comes to the same each time */
  constructor(
    private readonly ask: () => Iterable<Cell[]>,
    private readonly cellsInMemory = CELLS_IN_MEMORY,
    private readonly folder = tmpdir(),
  ) {}

  *[Symbol.iterator](): Generator<Cell[]> {
    if (this.state === "whole") {
      yield* this.rows;
      if (this.spool) yield* this.spool.rows();
      return;
    }
    // Whoever comes while others take them, or where they cannot be kept, has them from the database.
    if (this.state !== "none") return yield* this.ask();
    this.state = "taking";
    let left = this.cellsInMemory;
    let waiting: Cell[][] = [];
    try {
      for (const row of this.ask()) {
        left -= row.length;
        if (left >= 0) this.rows.push(row);
        else waiting.push(row);
        if (waiting.length === ROWS_AT_ONCE) {
          this.write(waiting);
          waiting = [];
        }
        yield row;
      }
      if (waiting.length > 0) this.write(waiting);
      if (this.state === "taking") this.state = "whole";
    } finally {
      // Not taken to the end: they are asked for again.
      if (this.state === "taking") this.state = "none";
      if (this.state !== "whole") this.letGo();
    }
  }

  private write(rows: Cell[][]): void {
    if (this.state !== "taking") return;
    try {
      this.spool ??= new Spool(this.folder);
      this.spool.write(rows);
    } catch {
      // There is no room for them.
      this.state = "tooMany";
      this.letGo();
    }
  }

  private letGo(): void {
    this.rows = [];
    this.spool?.close();
    this.spool = null;
  }
}

/** Rows in a file, by the thousand: how many bytes they take, then these. */
class Spool {
  private readonly descriptor: number;
  private readonly sizes: number[] = [];
  private end = 0;

  constructor(folder: string) {
    const own = mkdtempSync(join(folder, "nl-rows-"));
    try {
      this.descriptor = openSync(join(own, "rows"), "w+", 0o600);
    } finally {
      // It has no name any more, and is there until it is closed.
      rmSync(own, { recursive: true, force: true });
    }
    closing.register(this, this.descriptor, this);
  }

  write(rows: Cell[][]): void {
    const bytes = serialize(rows);
    for (let at = 0; at < bytes.length; ) at += writeSync(this.descriptor, bytes, at, bytes.length - at, this.end + at);
    this.sizes.push(bytes.length);
    this.end += bytes.length;
  }

  *rows(): Generator<Cell[]> {
    let from = 0;
    for (const size of this.sizes) {
      const bytes = Buffer.alloc(size);
      for (let at = 0; at < size; ) at += readSync(this.descriptor, bytes, at, size - at, from + at);
      from += size;
      yield* deserialize(bytes) as Cell[][];
    }
  }

  close(): void {
    closing.unregister(this);
    closeSync(this.descriptor);
  }
}

/** Files of rows that nobody holds any more are closed, and so gone. */
const closing = new FinalizationRegistry<number>((descriptor) => closeSync(descriptor));
