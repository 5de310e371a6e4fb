import { stepLedTo } from "../schema/rowNames";
import { type Column, findTable, type Schema, storedColumns, type Table } from "../schema/schema";
import type { Pair } from "./spec";

/** A column of a source that may go into one of the target: where its values would have to be found. */
export type ValueCandidate = { from: string; column: string; found?: NonNullable<Pair["found"]>; among: { table: string; column: string } };

/** The least share of a column's values that must be found, for the values to speak for it. */
const LEAST_SHARE = 0.5;
/** How many candidates are put to the data. */
const MOST = 200;

const isText = (column: Column): boolean => column.type.kind === "text" && !column.derived;

/**
 * Texts of a source that names have not paired, with the columns of the target that are still open: those that hold such texts already, and
 * those that lead to rows that are called so.
 */
export function valueCandidates(source: Table, target: Table, schema: Schema, pairs: Pair[]): ValueCandidate[] {
  const used = pairs.flatMap(({ value }) => (value.kind === "field" ? [value.name] : []));
  const free = source.columns.filter((c) => isText(c) && !used.includes(c.name));
  const open = storedColumns(target).filter((c) => c.filled !== "number" && !c.generated && !pairs.some((p) => p.column === c.name));
  const among = (column: Column): Omit<ValueCandidate, "from">[] => {
    if (isText(column)) return [{ column: column.name, among: { table: target.name, column: column.name } }];
    const led = stepLedTo(schema, target.name, column.name);
    const named = led && findTable(schema, led.table.name);
    if (!led || !named) return [];
    return named.columns
      .filter(isText)
      .map((by) => ({ column: column.name, found: { link: led.step.link, by: by.name }, among: { table: named.name, column: by.name } }));
  };
  const places = open.flatMap(among);
  return free.flatMap((c) => places.map((place) => ({ from: c.name, ...place }))).slice(0, MOST);
}

/**
 * The candidates that values speak for, each column of either side once, the most certain first.
 * @param shares of each candidate: how many of the source's values are found there, 0 to 1
 */
export function pairsByValues(candidates: ValueCandidate[], shares: number[]): Pair[] {
  const ranked = candidates.map((candidate, i) => ({ candidate, share: shares[i] ?? 0 })).filter((r) => r.share >= LEAST_SHARE);
  const pairs: Pair[] = [];
  const taken = new Set<string>();
  for (const { candidate } of ranked.sort((a, b) => b.share - a.share)) {
    const { from, column, found } = candidate;
    if (taken.has(`from ${from}`) || pairs.some((p) => p.column === column)) continue;
    taken.add(`from ${from}`);
    pairs.push({ column, value: { kind: "field", name: from }, ...(found ? { found } : {}) });
  }
  return pairs;
}
