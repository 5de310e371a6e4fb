import type { AnsweredBy } from "@/core/proof/proof";
import type { Statement } from "@/core/query/statement";
import type { ReadTable } from "@/core/recount/recount";
import type { Cell } from "@/core/types/valueType";

/*
 * Readings of a business database: several statements of one moment, whichever engine answers.
 *
 *   Reading   the database itself; who asks waits, so that what is laid out may ask in its midst
 *   Reader    the database or its columnar copy; who asks is answered in its time
 */

export type Reading = {
  engine: AnsweredBy;
  /**
   * What a statement comes to, row by row, as it is taken.
   * @param most it is taken whole, but more rows than that would be too many: some of them are left out
   */
  ask: (statement: Statement, most?: number) => Iterable<Cell[]>;
  /** The tables as they lie, for the recount. */
  tables: ReadTable;
  /** Another whenever the data may be another; null where it cannot be told. */
  version: () => string | null;
};

/** `asOf`: the moment (ISO 8601) that it is of, where that is an earlier one. */
export type Reader = { engine: AnsweredBy; asOf: string | null; answer: (statement: Statement, most?: number) => Promise<Cell[][]> };
