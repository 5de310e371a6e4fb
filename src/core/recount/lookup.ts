import { aliasesOf, type Expr } from "../expression/expr";
import type { LinkComparison, LinkOperator } from "../schema/schema";
import type { Evaluate, Tuple } from "./evaluator";
import { compareValues, keyOfValues, type Value } from "./value";

/* Rows found by what is compared with them: an index of what has to be the same, then the other comparisons. */

/** Rows by what tells them; those of which a part is empty are the same as none. */
export function indexed<T>(rows: Iterable<T>, keyOf: (row: T) => Value[]): (key: Value[]) => T[] {
  const index = new Map<unknown, T[]>();
  for (const row of rows) {
    const values = keyOf(row);
    if (values.includes(null)) continue;
    const key = keyOfValues(values);
    const held = index.get(key);
    if (held) held.push(row);
    else index.set(key, [row]);
  }
  return (values) => (values.includes(null) ? [] : (index.get(keyOfValues(values)) ?? []));
}

/** What an equality compares of a joined table with what stands before it; none where it is not one of the two. */
export function sidesOf(expr: Expr, alias: string): { near: Expr; far: Expr }[] {
  if (expr.node !== "call" || expr.fn !== "is") return [];
  const [a, b] = expr.args as [Expr, Expr];
  const isFar = (e: Expr) => aliasesOf(e).size === 1 && aliasesOf(e).has(alias);
  const isNear = (e: Expr) => !aliasesOf(e).has(alias);
  if (isFar(a) && isNear(b)) return [{ near: b, far: a }];
  return isFar(b) && isNear(a) ? [{ near: a, far: b }] : [];
}

const HOLDS: Record<LinkOperator, (order: number) => boolean> = {
  is: (o) => o === 0,
  isNot: (o) => o !== 0,
  less: (o) => o < 0,
  atMost: (o) => o <= 0,
  greater: (o) => o > 0,
  atLeast: (o) => o >= 0,
};

/** Rows by what a link compares; an empty value is the same as none. */
export function lookup<T>(rows: Iterable<T>, on: LinkComparison[], near: Evaluate[], far: (row: T, comparison: number) => Value): (tuple: Tuple) => T[] {
  const same = on.flatMap((c, i) => (c.operator === "is" ? [i] : []));
  const other = on.flatMap((c, i) => (c.operator === "is" ? [] : [i]));
  const find = indexed(rows, (row) => same.map((i) => far(row, i)));
  return (tuple) => {
    const found = find(same.map((i) => near[i]?.(tuple) ?? null));
    if (other.length === 0) return found;
    return found.filter((row) =>
      other.every((i) => {
        const [a, b] = [near[i]?.(tuple) ?? null, far(row, i)];
        return a !== null && b !== null && HOLDS[on[i]?.operator ?? "is"](compareLinked(a, b));
      }),
    );
  };
}

/** Numbers stand before texts, as databases without fixed types have it. */
const compareLinked = (a: Value, b: Value): number =>
  (typeof a === "string") === (typeof b === "string") ? compareValues(a, b) : typeof a === "string" ? 1 : -1;
