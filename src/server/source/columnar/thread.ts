import type { ReadTable } from "@/core/query/onCopy";
import type { Cell } from "@/core/types/valueType";
import { answering } from "../bridge";
import { type FailureCode, JobFailure } from "../failures";
import { CopyReading, NotOnCopy, type Statement } from "./client";

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
    if (error instanceof JobFailure) return { failure: error.code };
    if (error instanceof NotOnCopy) return null;
    throw error;
  } finally {
    copy.close();
  }
}

answering(found);
