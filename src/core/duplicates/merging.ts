import type { Column } from "../schema/schema";
import type { Cell } from "../types/valueType";

/** A row that may be a duplicate: the values of its key, all its values, and how many rows elsewhere lead to it. */
export type AlikeRow = { key: string[]; cells: Cell[]; links: number };

/** Rows that are alike; of those that are near in spelling only a person can tell. */
export type AlikeGroup = { rows: AlikeRow[]; near: boolean };

export type Duplicates = {
  columns: Column[];
  groups: AlikeGroup[];
  /** How many groups there are, and how many rows would go; the first groups are told. */
  all: { groups: number; rows: number; of: number };
};

/** What becomes of a group: whether its rows are merged, and into which. */
export type GroupChoice = { merged: boolean; keep: number };

/** The row that the others are merged into unless another is chosen: the one most rows lead to, of those the one with the most values. */
export function likeliestKept({ rows }: AlikeGroup): number {
  const filled = (row: AlikeRow) => row.cells.filter((c) => c !== null && c !== "").length;
  return rows.reduce((best, row, i) => {
    const kept = rows[best] as AlikeRow;
    return row.links > kept.links || (row.links === kept.links && filled(row) > filled(kept)) ? i : best;
  }, 0);
}

/** Where more of the rows than this are like another, what they are compared by is likely no name of theirs. */
const MOST_ALIKE = 0.2;

/** Whether so many rows are alike that the columns hardly name them: a trade, a town. */
export const namesFew = ({ all }: Pick<Duplicates, "all">): boolean => all.rows > MOST_ALIKE * all.of;

/** What is chosen at first: groups are merged whose names are the same but for how they are written; none where these are hardly names. */
export const firstChoices = (found: Pick<Duplicates, "groups" | "all">): GroupChoice[] =>
  found.groups.map((group) => ({ merged: !group.near && !namesFew(found), keep: likeliestKept(group) }));

/** A group with another choice. */
export const withChoice = (choices: GroupChoice[], at: number, change: Partial<GroupChoice>): GroupChoice[] =>
  choices.map((c, i) => (i === at ? { ...c, ...change } : c));

/** Rows that become one: the key of the one that stays, and of those that go. */
export type MergeGroup = { keep: string[]; others: string[][] };

/** The groups that are merged, by their keys. */
export const mergedGroups = (groups: AlikeGroup[], choices: GroupChoice[]): MergeGroup[] =>
  groups.flatMap(({ rows }, i) => {
    const { merged = false, keep = 0 } = choices[i] ?? {};
    const kept = rows[keep];
    return merged && kept ? [{ keep: kept.key, others: rows.filter((_, r) => r !== keep).map((r) => r.key) }] : [];
  });

/** What a merge comes to. */
export type Merged = {
  rowsBefore: number;
  rowsAfter: number;
  groups: number;
  /** Rows elsewhere that lead to the row that stays from now on, by their table. */
  carried: { table: string; label: string; rows: number }[];
  /** Empty values of rows that stay which are filled from those that go. */
  filled: number;
  /** Groups that cannot be merged, by the key of the row that stays. */
  refused: { key: string; why: string }[];
  digest: string;
};
