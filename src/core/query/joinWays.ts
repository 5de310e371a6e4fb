import type { JoinWay } from "./choices";
import type { Join, LinkedJoin } from "./spec";

/**
 * One record per way to join a table: what becomes of rows without a match on either side, and how a sentence says it.
 * The compiler, the recount, the account and the pickers all read this.
 */
export type JoinWayRecord = {
  /** Whether rows that find no match stay. */
  keepsNear: boolean;
  /** Whether rows of the joined table that no row matches come in. */
  keepsFar: boolean;
  /** Whether the joined table's columns can be shown; where not, joining it repeats no row either. */
  brings: boolean;
  /** As a choice, of a joined table and of what there is already: “keep every shipper and every consignment”. */
  choice: (far: string, near: string) => string;
};

export const JOIN_WAYS: Record<JoinWay, JoinWayRecord> = {
  keep: { keepsNear: true, keepsFar: false, brings: true, choice: (far, near) => `Keep every ${near}; ${far} if any` },
  only: { keepsNear: false, keepsFar: false, brings: true, choice: (far, near) => `Only ${near} rows with ${far}` },
  other: { keepsNear: false, keepsFar: true, brings: true, choice: (far) => `Keep every row of ${far}` },
  both: { keepsNear: true, keepsFar: true, brings: true, choice: (far, near) => `Keep every row of both, ${near} and ${far}` },
  has: { keepsNear: false, keepsFar: false, brings: false, choice: (far) => `Only those that have ${far}, without its columns` },
  every: { keepsNear: false, keepsFar: false, brings: true, choice: (far, near) => `Every pair of ${near} and ${far}` },
  hasNone: { keepsNear: false, keepsFar: false, brings: false, choice: (far) => `Only those that have no ${far}` },
};

/** The column that marks a row of a table without a key as being there. */
export const PRESENT = "is present";

/** Whether a way lets rows in that the tables before it do not have. */
export const keepsFar = (way: JoinWay): boolean => JOIN_WAYS[way].keepsFar;
/** Whether a way brings a table's columns. */
export const brings = (way: JoinWay): boolean => JOIN_WAYS[way].brings;

/** Whether a table is joined along a link; else it is by comparisons. */
export const isLinked = (join: Join): join is LinkedJoin => "link" in join;
