import type { Cell, ValueType } from "../types/valueType";

/** What becomes of one row of a posting's source. */
export const OUTCOMES = ["add", "change", "remove", "move", "there", "differs", "unchanged", "repeated", "unmatched", "refused"] as const;

/** Those that write. */
export const WRITING = ["add", "change", "remove", "move"] as const satisfies Outcome[];
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

/** What one step of a posting comes to: every row of the source has one outcome. */
export type StepTally = {
  /** The table that is written. */
  table: string;
  source: number;
  outcomes: Record<Outcome, number>;
  /** Rows already there, by the posting that added them. */
  since: { posting: number; rows: number }[];
  rowsBefore: number;
  rowsAfter: number;
  totals: { column: string; label: string; type: ValueType; before: Cell; after: Cell }[];
  /** The table that rows are moved from; `lost` are its columns whose values go nowhere. */
  origin: { table: string; label: string; before: number; after: number; lost: string[] } | null;
  /** In how many rows a change gives each column another value. */
  fields: { column: string; rows: number }[];
  /** The number the next new row gets, where the database numbers them. */
  nextNumber: number | null;
  /** Stands for the rows as they came: the same rows, posted again, have the same. */
  content: string;
  /** Stands for all of this and every value: a posting is made only if it comes to the same again. */
  digest: string;
};

/** What a posting comes to: the first step, and those after it. */
export type Tally = StepTally & {
  next?: StepTally[];
  /** The posting into the same table that had the very same rows; null where there is none. */
  before: PostedBefore | null;
  /** A step adds each row as a new one, whatever is there. */
  doubles: boolean;
};

export type PostedBefore = { number: number; at: string; reversedBy: number | null };

/** The posting that still stands and whose rows would be there twice; null where none would be. */
export const wouldDouble = ({ before, doubles }: Pick<Tally, "before" | "doubles">): PostedBefore | null =>
  doubles && before?.reversedBy === null ? before : null;

/** The steps of a posting that was made or tried; a posting of one step has no others. */
export const tallies = (tally: Tally): StepTally[] => [tally, ...(tally.next ?? [])];

export const isWriting = (outcome: Outcome): boolean => (WRITING as readonly Outcome[]).includes(outcome);

/** How many rows a step would write. */
export const rowsWritten = ({ outcomes }: Pick<StepTally, "outcomes">): number => WRITING.reduce((sum, outcome) => sum + (outcomes[outcome] ?? 0), 0);

export const noOutcomes = (): Record<Outcome, number> => Object.fromEntries(OUTCOMES.map((o) => [o, 0])) as Record<Outcome, number>;
