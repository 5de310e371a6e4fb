import type { Cell, ValueType } from "@/core/types/valueType";
import type { FailureCode } from "@/server/source/failures";

/*
 * How a job asks the process that has the columnar copy, over a socket: a line of JSON each. A connection is one reading,
 * of one moment; closing it stops what is under way.
 */

/** What comes back of a statement: each column's type, and where the text stands that does not fit it. */
export type Asked = { text: string; values: (string | null)[]; columns: { type: ValueType; raw: number | null }[] };

/**
 * What the ledger itself changed in the database from one version to the next, nobody else writing between: of each table
 * that was watched the numbers of the rows, none where it is as it was; null where there are too many. Nothing is known of
 * tables that are not named.
 */
export type Moved = { database: string; from: string; to: string; watched: { name: string; touched: string[] | null }[] };

export type Question =
  /** `at`: null where any one moment will do. */
  | { begin: { database: string; at: string | null; tables: { name: string; made: string }[] } }
  | { ask: Asked }
  | { moved: Moved }
  /** Which tables there are. */
  | { held: { database: string } };

export type Answer =
  /** The version that it is of; null where it is not begun. */
  | { begun: string | null }
  | { held: string[] }
  | { batch: Cell[][] }
  | { done: true }
  /** It is not answered here; the database is asked. */
  | { not: string }
  | { failure: FailureCode };

/** Lines out of bytes as they come. */
export function lineReader<L>(take: (line: L) => void): (bytes: Buffer) => void {
  let rest: Buffer[] = [];
  return (bytes) => {
    let from = 0;
    for (let end = bytes.indexOf(0x0a); end >= 0; end = bytes.indexOf(0x0a, from)) {
      const line = Buffer.concat([...rest, bytes.subarray(from, end)]);
      rest = [];
      from = end + 1;
      take(JSON.parse(line.toString()) as L);
    }
    if (from < bytes.length) rest.push(bytes.subarray(from));
  };
}
