import { type Aggregate, aggregateOf } from "../query/aggregates";
import { type Asking, answered, rowsOf } from "../query/asking";
import { readNames } from "../query/namePlan";
import type { Plan, PlanColumn } from "../query/plan";
import { ProblemError, problem } from "../types/problem";
import { type Cell, isMisfit, text } from "../types/valueType";
import type { AxisField, Heading, Pivot, PivotPlan, PlannedAxis, PlannedFigure, ShownFigure } from "./pivot";
import { groupingPlan, merges } from "./plan";
import { provingPivot } from "./prove";
import { plus, SHOWN, showCells, shownFormat } from "./show";
import { type Slots, slotsOf } from "./slots";
import { childOf, compareCells, keyOf, keysBetween, type Node, newNode } from "./tree";

/*
 * How a pivot comes about:
 *
 *   finest grouping → headings → order, first n and the rest → cells merged from the finest grouping
 *                                                            → cells asked of the rows, grouping by grouping
 *                   → shown as → proof
 *
 * Only figures whose registry entry merges are added up from parts. Every other one (averages, medians, counts of
 * different values) is asked of the rows for each level down with each level across.
 */

/** What is shown at most: leaves across, headings down, cells over all figures, and groups held while they are put together. */
export const MOST = { across: 1000, down: 100_000, cells: 4_000_000, groups: 3_000_000 } as const;

/** The same where the rows of plans are there at once. @param read the rows of a grouping */
export const assemblePivot = (pivot: PivotPlan, read: (plan: Plan) => Iterable<Cell[]>, locale: string, mostAcross?: number): Pivot =>
  answered(assemblingPivot(pivot, locale, mostAcross), ({ plan }) => read(plan));

type Group = { down: Node; across: Node; values: Cell[] };

/**
 * Works a pivot out. It asks for one grouping at least twice (the finest, and the proof's), more often for figures that do not merge.
 * @param locale BCP 47; the order of text
 * @param mostAcross the most leaves across; more are refused
 * @throws ProblemError pivotWide, pivotLong, pivotLarge where there is more than can be shown, with the number
 */
export function* assemblingPivot(pivot: PivotPlan, locale: string, mostAcross: number = MOST.across): Asking<Pivot> {
  const merging = pivot.figures.filter(merges);
  const asked = pivot.figures.filter((f) => !merges(f));
  const roots = { down: newNode(0, null, null), across: newNode(0, null, null) };
  const totals = new Map<Node, Cell[]>();
  const groups = yield* readGroups(pivot, merging, roots, totals);
  for (const side of ["down", "across"] as const) {
    fillEmpty(roots[side], pivot[side]);
    yield* nameNodes(roots[side], pivot[side]);
    yield* arrange(roots[side], side, pivot, merging, totals, locale);
  }
  const down = listed(roots.down);
  const across = listed(roots.across);
  refuseTooMany(down, across, pivot, mostAcross);

  const width = across.length;
  const cells = pivot.figures.map((): Cell[] => new Array(down.length * width).fill(null));
  mergeGroups(groups, merging, width, cells, pivot);
  const slots = { down: slotsOf(pivot.down, down), across: slotsOf(pivot.across, across) };
  for (let d = 0; asked.length > 0 && d <= pivot.down.length; d++)
    for (let a = 0; a <= pivot.across.length; a++) yield* askGrouping(pivot, asked, [d, a], slots, roots, width, cells);

  const headings = { down: down.map(headingOf), across: across.map(headingOf) };
  const figures = pivot.figures.map(({ spec, column }): ShownFigure => {
    const named = spec.label ?? (spec.showAs === "asIs" ? column.heading : SHOWN[spec.showAs].words);
    const unit = SHOWN[spec.showAs].percent || spec.showAs === "rank" ? undefined : column.unit;
    return { id: spec.id, heading: named, type: SHOWN[spec.showAs].gives(column.type), format: shownFormat(spec.showAs, column.format), unit };
  });
  const axis = (list: PlannedAxis[]): AxisField[] => list.map(({ column }) => ({ heading: column.heading, type: column.type, format: column.format }));
  return {
    axes: { down: axis(pivot.down), across: axis(pivot.across) },
    ...headings,
    figures,
    cells: pivot.figures.map((f, i) => showCells(f.spec.showAs, f.column.type, cells[i] ?? [], headings.down, headings.across)),
    proof: yield* provingPivot(pivot, headings, cells),
  };
}

/** The finest grouping, with the totals of every heading over the whole other axis. */
function* readGroups(pivot: PivotPlan, merging: PlannedFigure[], roots: { down: Node; across: Node }, totals: Map<Node, Cell[]>): Asking<Group[]> {
  const depth = { down: pivot.down.length, across: pivot.across.length };
  const plan = groupingPlan(
    pivot,
    pivot.down.map((a) => a.column),
    pivot.across.map((a) => a.column),
    merging,
  );
  const first = depth.down + depth.across;
  const groups: Group[] = [];
  for (const row of yield* rowsOf(plan)) {
    let down = roots.down;
    for (let i = 0; i < depth.down; i++) down = childOf(down, row[i] ?? null);
    let across = roots.across;
    for (let i = 0; i < depth.across; i++) across = childOf(across, row[depth.down + i] ?? null);
    const values = merging.map((_, i) => row[first + i] ?? null);
    const rows = Number(row[first + merging.length] ?? 0);
    for (const leaf of [down, across])
      for (let at: Node | null = leaf; at; at = at.parent) {
        at.rows += rows;
        const sums = totals.get(at) ?? [];
        merging.forEach((f, i) => {
          sums[i] = merged(f, sums[i] ?? null, values[i] ?? null);
        });
        totals.set(at, sums);
      }
    groups.push({ down, across, values });
    if (groups.length > MOST.groups) throw new ProblemError([problem("pivotLarge", ["down"], { most: MOST.groups })]);
  }
  return groups;
}

function merged({ spec, column }: PlannedFigure, a: Cell, b: Cell): Cell {
  if (a === null || b === null) return a ?? b;
  const how = aggregateOf(spec.figure)?.merges as NonNullable<Aggregate["merges"]>;
  if (how === "add") return plus(a, b, column.type);
  const less = compareCells(column.type, "en")(a, b) < 0;
  return less === (how === "least") ? a : b;
}

/** Groups without rows, where an axis asks for them: those between others, or those found under another parent. */
function fillEmpty(root: Node, axes: PlannedAxis[]): void {
  let parents = [root];
  for (const axis of axes) {
    if (axis.spec.empty) {
      const known = new Map(parents.flatMap((p) => [...p.children.values()]).map((n) => [keyOf(n.key), n.key]));
      for (const key of keysBetween(axis, [...known.values()])) known.set(keyOf(key), key);
      const missing = [...known.values()].filter((key) => key !== null);
      if (missing.length * parents.length > MOST.down)
        throw new ProblemError([problem("pivotLong", ["down"], { count: missing.length * parents.length, most: MOST.down })]);
      for (const parent of parents) for (const key of missing) childOf(parent, key);
    }
    parents = parents.flatMap((p) => [...p.children.values()]);
  }
}

/** Gives headings that stand for rows their names. */
function* nameNodes(root: Node, axes: PlannedAxis[]): Asking<void> {
  let nodes = [...root.children.values()];
  for (const { names } of axes) {
    if (names) {
      const found = readNames(names, yield* rowsOf(names));
      for (const node of nodes) node.name = node.key === null || isMisfit(node.key) ? undefined : found.get(String(node.key));
    }
    nodes = nodes.flatMap((n) => [...n.children.values()]);
  }
}

/** Puts each heading's children in order and gathers those beyond the first n; what has no value stands last. */
function* arrange(root: Node, side: "down" | "across", pivot: PivotPlan, merging: PlannedFigure[], totals: Map<Node, Cell[]>, locale: string): Asking<void> {
  let parents = [root];
  for (const [level, axis] of pivot[side].entries()) {
    const compare = yield* comparing(axis, level, side, pivot, merging, totals, locale, root);
    for (const parent of parents) {
      const children = [...parent.children.values()];
      const valued = children.filter((n) => n.key !== null).sort(compare);
      const { first } = axis.spec;
      const kept = first === null ? valued : valued.slice(0, first);
      const rest = valued.slice(kept.length);
      parent.order = [...kept, ...restNode(parent, kept, rest), ...children.filter((n) => n.key === null)];
    }
    parents = parents.flatMap((p) => p.order.filter((n) => n.rest === null));
  }
}

function restNode(parent: Node, kept: Node[], rest: Node[]): Node[] {
  if (rest.length === 0) return [];
  const node = newNode(
    parent.level + 1,
    null,
    parent,
    kept.map((n) => n.key),
  );
  node.rows = rest.reduce((sum, n) => sum + n.rows, 0);
  return [node];
}

type Compare = (a: Node, b: Node) => number;

function* comparing(
  axis: PlannedAxis,
  level: number,
  side: "down" | "across",
  pivot: PivotPlan,
  merging: PlannedFigure[],
  totals: Map<Node, Cell[]>,
  locale: string,
  root: Node,
): Asking<Compare> {
  const { order } = axis.spec;
  const keys = compareCells(axis.column.type, locale);
  const words = compareCells(text, locale);
  // Rows that have names go by these, those of one name by their keys; a key without a name comes after.
  const byName: Compare = (a, b) => (a.name === undefined && b.name === undefined ? 0 : words(a.name ?? null, b.name ?? null)) || keys(a.key, b.key);
  if (order.by === "name") return order.direction === "up" ? byName : (a, b) => byName(b, a);
  if (order.by === "hand") {
    const places = new Map(order.keys.map((key, i) => [key, i]));
    const place = (n: Node) => places.get(keyOf(n.key)) ?? places.size;
    return (a, b) => place(a) - place(b) || byName(a, b);
  }
  const figure = pivot.figures.find((f) => f.spec.id === order.figure) as PlannedFigure;
  const at = merging.indexOf(figure);
  const sizes = at < 0 ? yield* sizesOf(figure, pivot, side, level + 1, root) : null;
  const size = (n: Node): Cell => (sizes ? (sizes.get(n) ?? null) : (totals.get(n)?.[at] ?? null));
  const compare = compareCells(figure.column.type, locale);
  return (a, b) => {
    const [x, y] = [size(a), size(b)];
    if (x === null || y === null) return x === y ? byName(a, b) : x === null ? 1 : -1;
    return (order.direction === "up" ? compare(x, y) : compare(y, x)) || byName(a, b);
  };
}

/** A figure that does not merge, for each heading of a level over the whole other axis. */
function* sizesOf(figure: PlannedFigure, pivot: PivotPlan, side: "down" | "across", levels: number, root: Node): Asking<Map<Node, Cell>> {
  const columns: PlanColumn[] = pivot[side].slice(0, levels).map((a) => a.column);
  const plan = side === "down" ? groupingPlan(pivot, columns, [], [figure]) : groupingPlan(pivot, [], columns, [figure]);
  const sizes = new Map<Node, Cell>();
  for (const row of yield* rowsOf(plan)) {
    let node = root;
    for (let i = 0; i < levels; i++) node = childOf(node, row[i] ?? null);
    sizes.set(node, row[levels] ?? null);
  }
  return sizes;
}

/** All headings of an axis in the order they are shown, each with its index. */
function listed(root: Node): Node[] {
  const list: Node[] = [];
  const walk = (node: Node) => {
    node.index = list.length;
    list.push(node);
    for (const child of node.order) walk(child);
  };
  walk(root);
  return list;
}

function refuseTooMany(down: Node[], across: Node[], { figures }: PivotPlan, mostAcross: number): void {
  const leaves = across.filter((n) => n.order.length === 0).length;
  if (leaves > mostAcross) throw new ProblemError([problem("pivotWide", ["across"], { count: leaves, most: mostAcross })]);
  if (down.length > MOST.down) throw new ProblemError([problem("pivotLong", ["down"], { count: down.length, most: MOST.down })]);
  if (down.length * across.length * figures.length > MOST.cells) throw new ProblemError([problem("pivotLarge", ["down"], { most: MOST.cells })]);
}

/** The indexes of the headings a leaf counts for: itself, or the rest it is part of, and all above it. */
function chainOf(leaf: Node): number[] {
  const path: Node[] = [];
  for (let at: Node | null = leaf; at; at = at.parent) path.unshift(at);
  const chain: number[] = [];
  for (const node of path) {
    if (node.index < 0) {
      const rest = node.parent?.order.find((n) => n.rest !== null);
      if (rest) chain.push(rest.index);
      break;
    }
    chain.push(node.index);
  }
  return chain;
}

function mergeGroups(groups: Group[], merging: PlannedFigure[], width: number, cells: Cell[][], pivot: PivotPlan): void {
  const chains = new Map<Node, number[]>();
  const chain = (leaf: Node): number[] => {
    const known = chains.get(leaf) ?? chainOf(leaf);
    chains.set(leaf, known);
    return known;
  };
  const targets = merging.map((f) => cells[pivot.figures.indexOf(f)] ?? []);
  for (const { down, across, values } of groups)
    for (const d of chain(down))
      for (const a of chain(across))
        merging.forEach((figure, i) => {
          const target = targets[i] as Cell[];
          target[d * width + a] = merged(figure, target[d * width + a] ?? null, values[i] ?? null);
        });
}

/** Asks the rows for the figures that do not merge, for one level down with one level across. */
function* askGrouping(
  pivot: PivotPlan,
  asked: PlannedFigure[],
  [d, a]: [number, number],
  slots: { down: Slots; across: Slots },
  roots: { down: Node; across: Node },
  width: number,
  cells: Cell[][],
): Asking<void> {
  const down = slots.down.columns(d);
  const across = slots.across.columns(a);
  const first = down.length + across.length;
  for (const row of yield* rowsOf(groupingPlan(pivot, down, across, asked))) {
    const at = { down: slots.down.find(roots.down, d, row, 0), across: slots.across.find(roots.across, a, row, down.length) };
    if (!at.down || !at.across) continue;
    asked.forEach((figure, i) => {
      const target = cells[pivot.figures.indexOf(figure)] as Cell[];
      target[(at.down as Node).index * width + (at.across as Node).index] = row[first + i] ?? null;
    });
  }
}

const headingOf = ({ level, key, rest, parent, rows, name }: Node): Heading => ({
  level,
  key,
  rest,
  parent: parent?.index ?? -1,
  rows,
  ...(name === undefined ? {} : { name }),
});
