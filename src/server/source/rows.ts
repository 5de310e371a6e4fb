import type { Cell } from "@/core/types/valueType";
import { JobFailure } from "./failures";

/** Told how many rows or pages are done so far. */
export type Told = (done: number) => void;
const TOLD_EVERY = 500;

/** Rows on their way, told of now and then. */
export function* toldRows<R>(rows: Iterable<R>, told: Told | undefined): Generator<R> {
  let done = 0;
  for (const row of rows) {
    yield row;
    if (++done % TOLD_EVERY === 0) told?.(done);
  }
}

/** The longest text that is shown whole, and how much text all the rows of an answer may hold, in characters. */
const LONGEST_SHOWN = 100_000;
const MOST_SHOWN = 32_000_000;

/**
 * Rows as a sheet shows them: of a text of great length the beginning, and how long it is. It is whole in exports.
 * @throws JobFailure tooMuchText where all of them hold more than can be shown at once
 */
export function* shownRows(rows: Iterable<Cell[]>): Generator<Cell[]> {
  let shown = 0;
  for (const row of rows)
    yield row.map((cell) => {
      if (typeof cell !== "string") return cell;
      shown += Math.min(cell.length, LONGEST_SHOWN);
      if (shown > MOST_SHOWN) throw new JobFailure("tooMuchText");
      return cell.length <= LONGEST_SHOWN ? cell : `${cell.slice(0, 1000)}… (${cell.length.toLocaleString("en")} characters)`;
    });
}
