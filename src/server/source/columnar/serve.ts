import { once } from "node:events";
import { rmSync } from "node:fs";
import { createServer, type Socket } from "node:net";
import { availableParallelism } from "node:os";
import type { DuckDBDataChunk, DuckDBValue } from "@duckdb/node-api";
import type { Cell } from "@/core/types/valueType";
import { JobFailure } from "@/server/source/failures";
import { type Answer, type Asked, lineReader, type Question } from "./protocol";
import type { ColumnarStore } from "./store";
import { cellOf } from "./values";

/*
 * Answers readings from the copy over a socket. Each connection is a transaction of the copy's engine; where the other end
 * goes, its statement is interrupted.
 */

/** Functions of the copy's engine whose answer hangs on letters' case and accents. */
const BY_CASE = /\b(?:upper|lower|strip_accents)\(/;

export function serveReadings(store: ColumnarStore, path: string) {
  rmSync(path, { force: true });
  const server = createServer((socket) => new Reading(store, socket));
  server.listen(path);
  return server;
}

class Reading {
  private session: Awaited<ReturnType<ColumnarStore["begin"]>> = null;
  private working: Promise<void> = Promise.resolve();
  private gone = false;
  /** Whether the store counts it as one that reads. */
  private counted = false;

  constructor(
    private readonly store: ColumnarStore,
    private readonly socket: Socket,
  ) {
    socket.on(
      "data",
      lineReader<Question>((question) => this.take(question)),
    );
    socket.on("error", () => socket.destroy());
    socket.on("close", () => this.end());
  }

  private take(question: Question): void {
    this.working = this.working.then(() => this.answer(question)).catch((error: unknown) => this.fail(error));
  }

  private fail(error: unknown): void {
    if (error instanceof JobFailure) return void this.send({ failure: error.code });
    this.send({ not: error instanceof Error ? error.message : String(error) });
    // A fault of the engine's own may have ended all of it; then its process ends too, and is begun again.
    if (/^(INTERNAL|FATAL)/.test(String((error as Error).message))) void this.store.mustAnswer();
  }

  private send(answer: Answer): boolean {
    return this.gone || this.socket.write(`${JSON.stringify(answer)}\n`);
  }

  private async answer(question: Question): Promise<void> {
    if ("moved" in question) {
      await this.store.moved(question.moved);
      this.send({ done: true });
    } else if ("held" in question) {
      this.send({ held: question.held.database === this.store.database ? this.store.state.tables.map((t) => t.name) : [] });
    } else if ("begin" in question) {
      const { database, at, tables } = question.begin;
      this.reads(true);
      try {
        this.session = await this.store.begin(database, at, tables);
      } finally {
        if (!this.session) this.reads(false);
      }
      if (this.gone) this.end();
      this.send({ begun: this.session?.at ?? null });
    } else await this.ask(question.ask);
  }

  private async ask({ text, values, columns }: Asked): Promise<void> {
    const { session } = this;
    if (!session) throw new TypeError("Nothing was begun");
    if (session.unlike && BY_CASE.test(text)) return void this.send({ not: "Some texts have letters whose case is another here" });
    const result = await session.connection.stream(text, values);
    for (let chunk = await result.fetchChunk(); chunk && chunk.rowCount > 0 && !this.gone; chunk = await result.fetchChunk()) {
      // What is not taken yet is not made in store.
      if (!this.send({ batch: cellsOf(chunk, columns) })) await Promise.race([once(this.socket, "drain"), once(this.socket, "close")]);
    }
    this.send({ done: true });
  }

  private reads(now: boolean): void {
    if (this.counted !== now) this.store.reader(now ? 1 : -1);
    this.counted = now;
  }

  private end(): void {
    this.gone = true;
    this.reads(false);
    const { session } = this;
    if (!session) return;
    this.session = null;
    session.connection.interrupt();
    void this.working.finally(() => {
      session.connection.closeSync();
      letGoOfAnswers();
    });
  }
}

function cellsOf(chunk: DuckDBDataChunk, columns: Asked["columns"]): Cell[][] {
  const read = chunk.getColumns() as DuckDBValue[][];
  const cells = columns.map(({ type }, i) => (read[i] ?? []).map((value) => cellOf(value, type)));
  columns.forEach(({ raw }, i) => {
    const beside = raw === null ? undefined : read[raw];
    beside?.forEach((stored, row) => {
      const column = cells[i];
      if (column && column[row] === null && stored !== null) column[row] = { misfit: String(stored) };
    });
  });
  return Array.from({ length: chunk.rowCount }, (_, row) => cells.map((column) => column[row] ?? null));
}

/** So many readings are ended before what they held is looked for: the collector does not see what lies outside its own heap. */
const READINGS_HELD = 50;
let ended = 0;
function letGoOfAnswers(): void {
  if (++ended % READINGS_HELD === 0) globalThis.gc?.();
}

/** In how many threads the copy's engine may work. */
export const threadsHere = (): number => availableParallelism();
