import dagre from "@dagrejs/dagre";
import type { Schema } from "@/core/schema/schema";

export type Point = { x: number; y: number };

/** The size of a table's box, in pixels. */
export const WIDTH = 168;
export const HEIGHT = 52;

/** A line through points, rounded at each. */
export function pathThrough(points: Point[]): string {
  const [first, ...rest] = points;
  if (!first) return "";
  const middle = (a: Point, b: Point) => `${(a.x + b.x) / 2} ${(a.y + b.y) / 2}`;
  const bends = rest.slice(0, -1).map((p, i) => `Q ${p.x} ${p.y} ${middle(p, rest[i + 1] ?? p)}`);
  const last = rest.at(-1) ?? first;
  return `M ${first.x} ${first.y} ${bends.join(" ")} L ${last.x} ${last.y}`;
}

/** About how wide a letter of a link's name is, in pixels. */
const LETTER = 6;
type Line = { key: string; a: string; b: string; words: string; made: boolean };

/** Links between the same two tables are one line with all their names. */
function linesOf({ links }: Schema): Line[] {
  const lines = new Map<string, Line>();
  for (const l of links) {
    if (l.a.table === l.b.table) continue;
    const key = JSON.stringify([l.a.table, l.b.table]);
    const known = lines.get(key);
    lines.set(key, {
      key,
      a: l.a.table,
      b: l.b.table,
      words: known ? `${known.words}, ${l.b.name}` : l.b.name,
      made: (known?.made ?? false) || l.madeBy === "person",
    });
  }
  return [...lines.values()];
}

export type Arranged = { places: Map<string, Point>; lines: (Line & { points: Point[]; at: Point })[] };

/** Places the tables so that links run from left to right, from those that lead to many to those that lead to one; the names of links have room of their own. */
export function arranged(schema: Schema): Arranged {
  const graph = new dagre.graphlib.Graph();
  graph.setGraph({ rankdir: "LR", nodesep: 18, edgesep: 14, ranksep: 44 });
  const lines = linesOf(schema);
  const linked = new Set(lines.flatMap((l) => [l.a, l.b]));
  for (const t of schema.tables) if (linked.has(t.name)) graph.setNode(t.name, { width: WIDTH, height: HEIGHT });
  for (const l of lines) graph.setEdge(l.a, l.b, { width: l.words.length * LETTER + 10, height: 14, labelpos: "c" });
  dagre.layout(graph);
  const places = new Map(graph.nodes().map((name): [string, Point] => [name, graph.node(name)]));
  // Tables without a link stand in rows of their own below.
  const bottom = Math.max(0, ...[...places.values()].map((p) => p.y)) + HEIGHT * 2;
  const perRow = Math.max(4, Math.floor((graph.graph().width ?? 0) / (WIDTH + 24)));
  schema.tables
    .filter((t) => !linked.has(t.name))
    .forEach((t, i) => places.set(t.name, { x: (i % perRow) * (WIDTH + 24) + WIDTH / 2, y: bottom + Math.floor(i / perRow) * (HEIGHT + 18) }));
  return {
    places,
    lines: lines.map((l) => {
      const { points, x, y } = graph.edge(l.a, l.b) as { points: Point[]; x: number; y: number };
      const [from, to] = [places.get(l.a), places.get(l.b)];
      // From the right side of one table to the left side of the other, through the room that was kept between.
      const ends = from && to ? [{ x: from.x + WIDTH / 2, y: from.y }, ...points.slice(1, -1), { x: to.x - WIDTH / 2, y: to.y }] : points;
      return { ...l, points: from && to && from.x < to.x ? ends : points, at: { x, y } };
    }),
  };
}
