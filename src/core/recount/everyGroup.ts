import type { Expr } from "../expression/expr";
import { MOST_GROUPS, tooManyGroups } from "../query/everyGroup";
import { everyOf, type Plan, type PlanEvery } from "../query/plan";
import { evaluator } from "./evaluator";
import type { Groups } from "./groups";
import { compareValues, keyOfValues, type Row, type Value } from "./value";

/* Groups without rows, made a second time: values counted out and set beside each other by loops. */

/** Makes the groups that no row makes, where a plan shows those: every value of their keys beside those of the other keys that rows have. @param rowsOf the rows of another plan */
export function fillGroups(plan: Plan, groups: Groups, rowsOf: (plan: Plan) => Row[]): void {
  const every = everyOf(plan);
  if (every.length === 0) return;
  const keys = plan.columns.filter((c) => !c.figure && c.expr).map((c) => c.id);
  const made = groups.made();
  const placesOf = (ids: string[]) => ids.map((id) => keys.indexOf(id));
  const filled = every.map((e) => ({ places: placesOf(e.columns), values: valuesOf(e, made, keys, rowsOf).filter((row) => !row.includes(null)) }));
  const rest = keys.map((_, at) => at).filter((at) => !filled.some((f) => f.places.includes(at)));
  const others = new Map(made.map((row) => [keyOfValues(rest.map((at) => row[at] ?? null)), row]));
  const starts: Row[] = rest.length > 0 ? [...others.values()] : [keys.map(() => null)];
  if (filled.reduce((many, f) => many * f.values.length, starts.length) > MOST_GROUPS) throw tooManyGroups();
  const fill = (row: Row, at: number): void => {
    const next = filled[at];
    if (!next) return groups.ensure(row);
    for (const values of next.values) {
      const filledRow = [...row];
      next.places.forEach((place, i) => {
        filledRow[place] = values[i] ?? null;
      });
      fill(filledRow, at + 1);
    }
  };
  for (const start of starts) fill(start, 0);
}

/** The values that some keys have in any case. @param made the keys of the groups that rows make */
function valuesOf(every: PlanEvery, made: Row[], keys: string[], rowsOf: (plan: Plan) => Row[]): Row[] {
  const alone = (expr: Expr) => evaluator<Value>(expr, (leaf) => (leaf.node === "field" ? (value) => value : null));
  switch (every.kind) {
    case "rows": {
      const places = every.columns.map((id) => every.rows.columns.findIndex((c) => c.id === id));
      return rowsOf(every.rows).map((row) => places.map((at) => row[at] ?? null));
    }
    case "listed":
      return every.values.map((value) => [alone(value)(null)]);
    case "steps": {
      const known = made.map((row) => row[keys.indexOf(every.of)] ?? null).filter((v) => v !== null);
      const sorted = known.sort(compareValues);
      const [least, greatest] = [sorted[0], sorted.at(-1)];
      const [next, values] = [alone(every.next), every.values.map(alone)];
      const rows: Row[] = [];
      for (let at: Value = least ?? null; at !== null && greatest !== undefined && compareValues(at, greatest) <= 0; at = next(at)) {
        if (rows.length > MOST_GROUPS) throw tooManyGroups();
        rows.push(values.map((v) => v(at)));
      }
      return rows;
    }
    default:
      return every satisfies never;
  }
}
