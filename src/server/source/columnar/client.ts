import { connect, type Socket } from "node:net";
import type { BoundValue } from "@/core/query/compile";
import type { ReadTable } from "@/core/query/onCopy";
import type { Cell, ValueType } from "@/core/types/valueType";
import { JobFailure } from "@/server/source/failures";
import { type Answer, type Asked, lineReader, type Moved, type Question } from "./protocol";

/** The copy does not answer this: the database is asked. */
export class NotOnCopy extends Error {}

/** A statement as the copy is asked it. */
export type Statement = { text: string; values: BoundValue[]; columns: { type: ValueType; raw: number | null }[] };

const asked = ({ text, values, columns }: Statement): Asked => ({
  text,
  values: values.map((v) => v.value),
  columns: columns.map(({ type, raw }) => ({ type, raw })),
});

/** One reading of the copy, all of one moment; whoever begins one closes it. */
export class CopyReading {
  private readonly answers: Answer[] = [];
  private waiting: (() => void) | null = null;
  private over: Error | null = null;

  /** The version that it is of. */
  at = "";

  private constructor(private readonly socket: Socket) {
    socket.on(
      "data",
      lineReader<Answer>((answer) => this.take(answer)),
    );
    socket.on("error", (error) => this.fail(error));
    socket.on("close", () => this.fail(new Error("The copy's process went away")));
  }

  /**
   * @param at the version that they are to be of; null where any one will do
   * @returns null where the copy has not all of the tables as they are at the version, or is not there
   */
  static async begin(path: string, database: string, at: string | null, tables: Pick<ReadTable, "name" | "made">[]): Promise<CopyReading | null> {
    const socket = connect(path);
    const reading = new CopyReading(socket);
    try {
      reading.send({ begin: { database, at, tables: tables.map(({ name, made }) => ({ name, made })) } });
      const answer = await reading.next();
      if ("begun" in answer && answer.begun !== null) {
        reading.at = answer.begun;
        return reading;
      }
    } catch {
      // It is not there yet, or no more.
    }
    reading.close();
    return null;
  }

  /** @throws NotOnCopy, JobFailure tooLarge */
  async *batches(statement: Statement): AsyncGenerator<Cell[][]> {
    this.send({ ask: asked(statement) });
    for (;;) {
      const answer = await this.next();
      if ("batch" in answer) yield answer.batch;
      else if ("done" in answer) return;
      else if ("failure" in answer) throw new JobFailure(answer.failure);
      else throw new NotOnCopy("not" in answer ? answer.not : "");
    }
  }

  close(): void {
    this.socket.destroy();
  }

  private send(question: Question): void {
    this.socket.write(`${JSON.stringify(question)}\n`);
  }

  private take(answer: Answer): void {
    this.answers.push(answer);
    // Whoever reads slowly is not sent more than it can hold.
    if (this.answers.length > MOST_WAITING) this.socket.pause();
    this.waiting?.();
  }

  private fail(error: Error): void {
    this.over ??= error;
    this.waiting?.();
  }

  private async next(): Promise<Answer> {
    while (this.answers.length === 0) {
      if (this.over) throw new NotOnCopy(this.over.message);
      await new Promise<void>((done) => {
        this.waiting = done;
      });
    }
    this.waiting = null;
    const [answer] = this.answers.splice(0, 1);
    if (this.answers.length <= MOST_WAITING) this.socket.resume();
    return answer as Answer;
  }
}

/** Batches that may wait to be read. */
const MOST_WAITING = 4;

/** One question and its answer; null where the copy's process is not there. */
function asking(path: string, question: Question): Promise<Answer | null> {
  return new Promise((done) => {
    const socket = connect(path);
    const end = (answer: Answer | null) => {
      socket.destroy();
      done(answer);
    };
    socket.on("error", () => end(null));
    socket.on("close", () => end(null));
    socket.on("data", lineReader<Answer>(end));
    socket.write(`${JSON.stringify(question)}\n`);
  });
}

/** How long whoever changed something waits for the copy to follow. Until it has, the database is asked. */
const FOLLOW_MS = 500;

/** Tells the copy what the ledger itself changed. What cannot be told is found out by the copy, and copied anew. */
export async function tellMoved(path: string, moved: Moved): Promise<void> {
  await Promise.race([asking(path, { moved }), new Promise((done) => setTimeout(done, FOLLOW_MS))]);
}

/** The tables of a database that the copy has. */
export async function askHeld(path: string, database: string): Promise<string[]> {
  const answer = await asking(path, { held: { database } });
  return answer && "held" in answer ? answer.held : [];
}
