import { type Expr, type FigureExpr, figuresOf } from "../expression/expr";
import { type Evaluate, type Evaluator, evaluator, type Tuple } from "./evaluator";
import { type Tally, tallyOf } from "./figures";
import { keyOfValues, type Row, type Value } from "./value";

type Group = { keys: Row; tallies: Tally[] };

/**
 * Rows by groups, and what expressions over a group come to: figures of its rows, its own values, and what is worked out
 * from both. Without keys all rows are one group, also where there is none.
 */
export class Groups {
  private readonly figures: { node: FigureExpr; of: Evaluate; by: Evaluate; keys: ((tuple: Tuple) => Value[]) | null }[];
  private readonly values: ((group: Group) => Value)[];
  private readonly keysOf: (tuple: Tuple) => Value[];
  private readonly isOne: boolean;
  private readonly groups = new Map<unknown, Group>();

  /** @param keys what the groups are made by @param exprs what is asked of each group */
  constructor(recount: Evaluator, keys: Expr[], exprs: Expr[]) {
    const names = keys.map((key) => JSON.stringify(key));
    const nodes = new Map(exprs.flatMap(figuresOf).map((node) => [JSON.stringify(node), node]));
    const places = [...nodes.keys()];
    this.figures = [...nodes.values()].map((node) => ({
      node,
      of: node.of ? recount.evaluate(node.of) : () => 1n,
      by: node.by ? recount.evaluate(node.by) : () => null,
      keys: node.keys ? recount.evaluateAll(node.keys) : null,
    }));
    this.values = exprs.map((expr) =>
      evaluator<Group>(expr, (part) => {
        if (part.node === "figure") {
          const at = places.indexOf(JSON.stringify(part));
          return (group) => group.tallies[at]?.value() ?? null;
        }
        const at = part.node === "literal" ? -1 : names.indexOf(JSON.stringify(part));
        return at < 0 ? null : (group) => group.keys[at] ?? null;
      }),
    );
    this.keysOf = recount.evaluateAll(keys);
    this.isOne = keys.length === 0;
    this.clear();
  }

  /** No rows at all, as at the start. */
  clear(): void {
    this.groups.clear();
    if (this.isOne) this.groupOf([]);
  }

  private groupOf(keys: Row): Group {
    const key = keyOfValues(keys);
    const known = this.groups.get(key);
    if (known) return known;
    const tallies = this.figures.map(({ node }) => tallyOf(node.figure, node.of?.type ?? { kind: "whole" }, node));
    const group = { keys, tallies };
    this.groups.set(key, group);
    return group;
  }

  add(tuple: Tuple): void {
    const group = this.groupOf(this.keysOf(tuple));
    this.figures.forEach(({ of, by, keys }, i) => group.tallies[i]?.add({ value: of(tuple), by: by(tuple), keys: keys?.(tuple) ?? null }));
  }

  /** What each of its groups is made by. */
  made = (): Row[] => [...this.groups.values()].map((g) => g.keys);

  /** A group that is there whether or not a row makes it. */
  ensure(keys: Row): void {
    this.groupOf(keys);
  }

  /** Every group, by the key of what it is made by, with its own values and what was asked of it. */
  *all(): Iterable<{ key: unknown; keys: Row; values: Value[] }> {
    for (const [key, group] of this.groups) yield { key, keys: group.keys, values: this.values.map((value) => value(group)) };
  }
}
