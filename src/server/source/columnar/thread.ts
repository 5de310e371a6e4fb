import type { ReadTable } from "@/core/query/onCopy";
import type { Cell } from "@/core/types/valueType";
import { answering } from "../bridge";
import { type FailureCode, JobFailure } from "../failures";
import { CopyReading, type Statement } from "./client";

/*
 * The thread that asks the columnar copy for a process that waits for each answer. Built to dist/copy-thread.mjs.
 */

/** What is to be read, of tables as they are at a version of the database. `path`: where the copy's process answers. */
export type OfCopy = { path: string; database: string; at: string; tables: Pick<ReadTable, "name" | "made">[] };

export type AskedOfCopy =
  /** All rows of a statement. `most`: of more rows there is no answer. */
  | { all: OfCopy & { statement: Statement; most: number } }
  /** A statement whose rows are taken in batches. */
  | { open: OfCopy & { statement: Statement } }
  | { next: number }
  | { close: number };

/** null where the copy does not answer, or has no more rows. */
export type FoundInCopy = { rows: Cell[][] } | { opened: number } | { failure: FailureCode } | null;

type Open = { copy: CopyReading; batches: AsyncGenerator<Cell[][]> };
const open = new Map<number, Open>();
let opened = 0;

function close(at: number): void {
  open.get(at)?.copy.close();
  open.delete(at);
}

async function all({ statement, most, ...of }: OfCopy & { statement: Statement; most: number }): Promise<FoundInCopy> {
  const copy = await CopyReading.begin(of.path, of.database, of.at, of.tables);
  if (!copy) return null;
  try {
    const rows: Cell[][] = [];
    for await (const batch of copy.batches(statement)) {
      for (const row of batch) rows.push(row);
      if (rows.length > most) return null;
    }
    return { rows };
  } finally {
    copy.close();
  }
}

async function found(asked: AskedOfCopy): Promise<FoundInCopy> {
  if ("all" in asked) return all(asked.all);
  if ("open" in asked) {
    const { path, database, at, tables, statement } = asked.open;
    const copy = await CopyReading.begin(path, database, at, tables);
    if (!copy) return null;
    open.set(++opened, { copy, batches: copy.batches(statement) });
    return { opened };
  }
  if ("next" in asked) {
    const batch = await open.get(asked.next)?.batches.next();
    return batch && !batch.done ? { rows: batch.value } : null;
  }
  close(asked.close);
  return null;
}

// Whatever goes wrong with the copy, whoever asked waits for this thread.
answering((asked: AskedOfCopy) =>
  found(asked).catch((error: unknown): FoundInCopy => {
    if (error instanceof JobFailure) return { failure: error.code };
    return "all" in asked ? null : { failure: "copyRenewed" };
  }),
);
