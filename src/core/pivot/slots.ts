import { both, call, type Expr, literal, negated } from "../expression/expr";
import { hasKey } from "../query/groupKeys";
import type { PlanColumn } from "../query/plan";
import { type Cell, yesno } from "../types/valueType";
import type { PlannedAxis } from "./pivot";
import { keyOf, type Node, pathOf } from "./tree";

/**
 * The columns that put rows under the headings of an axis as they are shown, the rest of a first n being one heading:
 * for each field its key, and before it, where some group has a rest, whether the row is part of that.
 */
export type Slots = {
  columns: (levels: number) => PlanColumn[];
  /** The heading that a row of the grouping belongs to; null for what lies below a rest. */
  find: (root: Node, levels: number, row: Cell[], from: number) => Node | null;
};

/** A condition that an expression has a value, and none of those given. */
export function inRest(expr: Expr, kept: Cell[]): Expr {
  const known = kept.filter((k) => k !== null && typeof k !== "object").map((k) => literal(String(k), expr.type));
  return both(call("isNotNull", [expr], yesno), negated(call("oneOf", [expr, ...known], yesno)));
}

/** Halves the list again and again, so that however many there are they nest only a few deep. */
function anyOf(exprs: Expr[]): Expr {
  const half = Math.ceil(exprs.length / 2);
  return exprs.length <= 1 ? (exprs[0] as Expr) : call("or", [anyOf(exprs.slice(0, half)), anyOf(exprs.slice(half))], yesno);
}

export function slotsOf(axes: PlannedAxis[], headings: Node[]): Slots {
  const rests = axes.map((_, level) => headings.filter((n) => n.rest !== null && n.level === level + 1));
  const slots = axes.map(({ column }, level): PlanColumn[] => {
    const nodes = rests[level] ?? [];
    const key = column.expr as Expr;
    if (nodes.length === 0) return [column];
    const part = anyOf(
      nodes.map((rest) =>
        pathOf(rest.parent as Node).reduce((test, step, i) => both(test, hasKey(axes[i]?.column.expr as Expr, step.key)), inRest(key, rest.rest ?? [])),
      ),
    );
    return [
      { ...column, id: `${column.id} rest`, expr: call("isTrue", [part], yesno), type: yesno },
      { ...column, expr: call("case", [negated(part), key], key.type) },
    ];
  });
  return {
    columns: (levels) => slots.slice(0, levels).flat(),
    find(root, levels, row, from) {
      let node: Node = root;
      let at = from;
      for (let level = 0; level < levels; level++) {
        if (node.rest !== null) return null;
        const rest = slots[level]?.length === 2 && Number(row[at++]) === 1;
        const key = keyOf(row[at++] ?? null);
        const next = rest ? node.order.find((n) => n.rest !== null) : node.children.get(key);
        if (!next) return null;
        node = next;
      }
      return node.index < 0 ? null : node;
    },
  };
}
