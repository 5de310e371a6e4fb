import { cellOfStored, coerce, type Stored } from "@/core/posting/coerce";
import type { PlanPair, PostingPlan } from "@/core/posting/plan";
import { quoted } from "@/core/query/dialect/dialect";
import { type Cell, isMisfit } from "@/core/types/valueType";
import { type Connection, tableSql } from "@/server/source/connection";

/** `wrong` are the pairs whose values cannot be written, `at` the first that cannot be read. */
export type Made = { stored: Stored[]; shown: Cell[]; why: string | null; at: number | null; wrong: number[] };

/** Makes the values of a row out of its source's cells: coerced, found through links. */
export function valuesOf(db: Connection, plan: PostingPlan): (cells: Cell[]) => Made {
  const makers = plan.pairs.map((pair) => makerOf(db, pair));
  const above: Cell[] = plan.pairs.map(() => null);
  /** The value of a pair in a row; where it is empty and filled down, that of the row before. */
  const cellFor = (pair: PlanPair, i: number, cells: Cell[]): Cell => {
    const cell = cells[pair.at] ?? null;
    if (!pair.down) return cell;
    if (cell !== null && cell !== "") above[i] = cell;
    return above[i] ?? null;
  };
  return (cells) => {
    const stored: Stored[] = [];
    const shown: Cell[] = [];
    const whys: string[] = [];
    const wrong: number[] = [];
    let at: number | null = null;
    plan.pairs.forEach((pair, i) => {
      const cell = cellFor(pair, i, cells);
      const made = (makers[i] as (cell: Cell) => { stored: Stored } | { why: string })(cell);
      if ("why" in made) {
        whys.push(`${pair.column.label}: ${made.why}`);
        at ??= i;
        wrong.push(i);
        shown.push(cell === null || isMisfit(cell) ? cell : { misfit: String(cell) });
        stored.push(null);
        return;
      }
      stored.push(made.stored);
      shown.push(pair.found ? cell : cellOfStored(made.stored, pair.column));
      if (made.stored !== null || pair.column.nullable || pair.column.filled) return;
      whys.push(`${pair.column.label} is empty`);
      wrong.push(i);
    });
    return { stored, shown, why: whys.join("; ") || null, at, wrong };
  };
}

function makerOf(db: Connection, pair: PlanPair): (cell: Cell) => { stored: Stored } | { why: string } {
  const { found, column, from, dates } = pair;
  if (!found) return (cell) => coerce(cell, from, column, dates);
  const known = new Map<string, { stored: Stored } | { why: string }>();
  const find = db
    .prepare(`SELECT ${quoted(found.give.name)} FROM ${tableSql(db, found.table.name)} WHERE ${quoted(found.by.name)} = ? LIMIT 2`)
    .pluck()
    .safeIntegers(true);
  return (cell) => {
    const wanted = coerce(cell, from, found.by, dates);
    if ("why" in wanted || wanted.stored === null) return wanted;
    const key = String(wanted.stored);
    const remembered = known.get(key);
    if (remembered) return remembered;
    const rows = find.all(wanted.stored) as Stored[];
    const [first = null] = rows;
    const made = rows.length === 1 ? { stored: first } : { why: `“${key}”: ${rows.length === 0 ? "no such" : "more than one"} ${found.by.label}` };
    known.set(key, made);
    return made;
  };
}

/** What a row that a value leads to is called, by the column it is looked up by; the value itself where there is none. */
export function namerOf(db: Connection, { table, by, give }: NonNullable<PlanPair["found"]>): (stored: Stored | Uint8Array) => Cell | null {
  const find = db
    .prepare(`SELECT ${quoted(by.name)} FROM ${tableSql(db, table.name)} WHERE ${quoted(give.name)} = ? LIMIT 1`)
    .pluck()
    .safeIntegers(true);
  return (stored) => {
    const named = stored === null ? null : (find.get(stored) as Stored | undefined);
    return named === undefined || named === null ? null : cellOfStored(named, by);
  };
}
