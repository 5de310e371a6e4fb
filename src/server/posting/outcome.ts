import type { Cell } from "@/core/types/valueType";

/** What becomes of one row of a posting's source. */
export const OUTCOMES = ["add", "change", "remove", "there", "differs", "unchanged", "repeated", "unmatched", "refused"] as const;
export type Outcome = (typeof OUTCOMES)[number];

export type OutcomeRow = {
  /** The row's place in the source, from 1. */
  n: number;
  outcome: Outcome;
  /** The values by pair, as they will be; as they came where the row is refused. */
  cells: Cell[];
  /** What stood there before, by pair; for a row that differs, what stands there. null where nothing is held against it. */
  from: Cell[] | null;
  why: string | null;
  /** The pair whose value is the reason; null where it is none or several. */
  at: number | null;
  /** The posting that added the row already there. */
  posting: number | null;
};

/** What a posting comes to: every row of the source has one outcome. */
export type Tally = {
  source: number;
  outcomes: Record<Outcome, number>;
  /** Rows already there, by the posting that added them. */
  since: { posting: number; rows: number }[];
  rowsBefore: number;
  rowsAfter: number;
  totals: { column: string; label: string; before: Cell; after: Cell }[];
  /** The number the next new row gets, where the database numbers them. */
  nextNumber: number | null;
  /** Stands for all of this and every value: a posting is made only if it comes to the same again. */
  digest: string;
};

export const noOutcomes = (): Record<Outcome, number> => Object.fromEntries(OUTCOMES.map((o) => [o, 0])) as Record<Outcome, number>;
