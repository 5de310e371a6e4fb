import type { ReadTable } from "@/core/query/onCopy";
import type { Cell } from "@/core/types/valueType";
import { answering } from "../bridge";
import { type FailureCode, JobFailure } from "../failures";
import { CopyReading, type Statement } from "./client";

/*
 * The thread that asks the columnar copy for a process that waits for each answer. Built to dist/copy-thread.mjs.
 */

/** A statement, on the tables it reads as they are at a version of the database. `path`: where the copy's process answers; `most`: of more rows there is no answer. */
export type AskedOfCopy = { path: string; database: string; at: string; tables: ReadTable[]; statement: Statement; most: number };
/** null where the copy does not answer. */
export type FoundInCopy = { rows: Cell[][] } | { failure: FailureCode } | null;

async function found({ path, database, at, tables, statement, most }: AskedOfCopy): Promise<FoundInCopy> {
  const copy = await CopyReading.begin(path, database, at, tables);
  if (!copy) return null;
  try {
    const rows: Cell[][] = [];
    for await (const batch of copy.batches(statement)) {
      for (const row of batch) rows.push(row);
      if (rows.length > most) return null;
    }
    return { rows };
  } catch (error) {
    // Whatever else went wrong with it, the database answers: who asked waits for this thread.
    return error instanceof JobFailure ? { failure: error.code } : null;
  } finally {
    copy.close();
  }
}

answering(found);
