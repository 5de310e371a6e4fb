import dagre from "@dagrejs/dagre";
import type { Schema } from "@/core/schema/schema";

export type Point = { x: number; y: number };

/** The size of a table's box, in pixels: its head, and a line for each link that leads away from it. */
export const WIDTH = 190;
export const HEAD = 52;
export const PORT = 20;

/** A link as it stands in the box of the table it leads away from. */
export type Port = { link: string; words: string; far: string; made: boolean };

/** The links that lead away from each table, in the order of their names; a table can lead to itself. */
export function portsOf({ links }: Schema): Map<string, Port[]> {
  const ports = new Map<string, Port[]>();
  for (const { id, a, b, madeBy } of links)
    ports.set(a.table, [...(ports.get(a.table) ?? []), { link: id, words: b.name, far: b.table, made: madeBy === "person" }]);
  for (const list of ports.values()) list.sort((x, y) => (x.words < y.words ? -1 : 1));
  return ports;
}

/** The end of a line at a column of a table whose columns are shown. */
export const columnHandle = (column: string): string => `column ${column}`;
export const columnOfHandle = (handle: string | null | undefined): string | undefined =>
  handle?.startsWith("column ") ? handle.slice("column ".length) : undefined;

/** How high a box is with so many links. */
export const heightOf = (ports: number): number => HEAD + (ports > 0 ? ports * PORT + 6 : 0);

/** Where the line of a link begins, from the top of its box. */
export const portAt = (i: number): number => HEAD + i * PORT + PORT / 2;

/**
 * The upper left corners of all boxes: links run from left to right, from those that lead to many to those that lead to one;
 * tables without a link stand in rows of their own below.
 */
export function arranged(schema: Schema): Map<string, Point> {
  const graph = new dagre.graphlib.Graph();
  graph.setGraph({ rankdir: "LR", nodesep: 22, ranksep: 90 });
  const ports = portsOf(schema);
  const height = (name: string): number => heightOf(ports.get(name)?.length ?? 0);
  const lines = schema.links.filter((l) => l.a.table !== l.b.table);
  const linked = new Set(lines.flatMap((l) => [l.a.table, l.b.table]));
  for (const t of schema.tables) if (linked.has(t.name)) graph.setNode(t.name, { width: WIDTH, height: height(t.name) });
  for (const l of lines) graph.setEdge(l.a.table, l.b.table, {});
  dagre.layout(graph);
  const places = new Map(
    graph.nodes().map((name): [string, Point] => {
      const { x, y } = graph.node(name) as Point;
      return [name, { x: x - WIDTH / 2, y: y - height(name) / 2 }];
    }),
  );
  const bottom = Math.max(0, ...[...places].map(([name, p]) => p.y + height(name))) + HEAD;
  const perRow = Math.max(4, Math.floor((graph.graph().width ?? 0) / (WIDTH + 24)));
  schema.tables
    .filter((t) => !linked.has(t.name))
    .forEach((t, i) => places.set(t.name, { x: (i % perRow) * (WIDTH + 24), y: bottom + Math.floor(i / perRow) * (HEAD + 22) }));
  return places;
}

/** Where boxes stand: where a person put them, else where they are arranged. */
export function placesOf(schema: Schema, kept: Record<string, Point>): Map<string, Point> {
  const places = arranged(schema);
  for (const [name, place] of Object.entries(kept)) if (places.has(name)) places.set(name, place);
  return places;
}
