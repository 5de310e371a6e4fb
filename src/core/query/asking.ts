import type { Cell } from "../types/valueType";
import type { Plan } from "./plan";
import type { Statement } from "./statement";

/**
 * Work that asks for rows on its way, whoever answers and however long that takes: it gives a statement and goes on with
 * what it comes to, one row at a time, as cells in the order of its columns. A footing comes to one row.
 */
export type Asking<T> = Generator<Statement, T, Iterable<Cell[]>>;

/** Asks for what a statement comes to, within work that asks. */
export function* asked(statement: Statement): Asking<Iterable<Cell[]>> {
  return yield statement;
}

/** Asks for the rows of a plan. */
export const rowsOf = (plan: Plan): Asking<Iterable<Cell[]>> => asked({ of: "rows", plan });

/** Does work whose questions are answered at once. */
export function answered<T>(work: Asking<T>, answer: (statement: Statement) => Iterable<Cell[]>): T {
  let step = work.next();
  while (!step.done) step = work.next(answer(step.value));
  return step.value;
}

/** Does work whose questions are answered in their time. */
export async function answeredLater<T>(work: Asking<T>, answer: (statement: Statement) => Promise<Iterable<Cell[]>>): Promise<T> {
  let step = work.next();
  while (!step.done) step = work.next(await answer(step.value));
  return step.value;
}
