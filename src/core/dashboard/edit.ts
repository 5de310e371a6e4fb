import { EARLIER } from "../chart/choices";
import type { QuerySpec } from "../query/spec";
import type { Schema, Step } from "../schema/schema";
import { proposeMeeting } from "./filters";
import type { DashboardFilter, DashboardSpec, Meeting, Place, PlainTile, Tile, TileKind } from "./spec";
import { plainTiles } from "./tiles";

/* What a person does to a dashboard, each as a description made from a description. */

/** The size a tile begins with, in columns and rows of the grid. */
const SIZES: Record<TileKind, { w: number; h: number }> = {
  figure: { w: 3, h: 4 },
  chart: { w: 8, h: 11 },
  pivot: { w: 12, h: 11 },
  table: { w: 12, h: 8 },
  text: { w: 4, h: 4 },
  picture: { w: 4, h: 6 },
  switch: { w: 12, h: 9 },
};
const COLUMNS = 12;

function freshId(spec: DashboardSpec, stem: string): string {
  const taken = new Set([...spec.tiles.map((t) => t.id), ...plainTiles(spec).map((t) => t.id), ...spec.filters.map((f) => f.id)]);
  for (let n = 1; ; n++) if (!taken.has(`${stem}${n}`)) return `${stem}${n}`;
}

const overlaps = (a: Place, b: Place) => a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h;

/** The first place on the grid, row by row, where a tile of a size lies on no other. */
function freePlace(places: Place[], tile: string, { w, h }: { w: number; h: number }): Place {
  for (let y = 0; ; y++)
    for (let x = 0; x + w <= COLUMNS; x++) {
      const place = { tile, x, y, w, h };
      if (!places.some((p) => overlaps(p, place))) return place;
    }
}

/** Adds a tile where there is room; filters meet it as the links propose. @param queryOf the query a tile is made from */
export function addTile(spec: DashboardSpec, make: (id: string) => Tile, schema: Schema, queryOf: (tile: PlainTile) => QuerySpec | null): DashboardSpec {
  const tile = make(freshId(spec, "t"));
  const next = {
    ...spec,
    tiles: [...spec.tiles, tile],
    wide: [...spec.wide, freePlace(spec.wide, tile.id, SIZES[tile.kind])],
    narrow: [...spec.narrow, tile.id],
  };
  return withMeetings(next, schema, queryOf);
}

/** Changes a tile. Made from another source, it is met by filters as a new one would be. */
export function changeTile(spec: DashboardSpec, tile: Tile, schema: Schema, queryOf: (tile: PlainTile) => QuerySpec | null): DashboardSpec {
  const next = { ...spec, tiles: spec.tiles.map((t) => (t.id === tile.id ? tile : t)) };
  const sources = new Map(plainTiles(spec).map((t) => [t.id, queryOf(t)?.source]));
  const moved = new Set(plainTiles(next).flatMap((t) => (sources.get(t.id) === queryOf(t)?.source ? [] : [t.id])));
  return moved.size === 0 ? next : withMeetings({ ...next, filters: withoutTiles(next.filters, moved) }, schema, queryOf);
}

const withoutTiles = (filters: DashboardFilter[], gone: Set<string>): DashboardFilter[] =>
  filters.map((f) => ({ ...f, meets: Object.fromEntries(Object.entries(f.meets).filter(([tile]) => !gone.has(tile))) }));

export function removeTile(spec: DashboardSpec, id: string): DashboardSpec {
  const gone = spec.tiles.find((t) => t.id === id);
  const ids = new Set([id, ...(gone?.kind === "switch" ? gone.tiles.map((t) => t.id) : [])]);
  return {
    ...spec,
    tiles: spec.tiles.filter((t) => t.id !== id),
    wide: spec.wide.filter((p) => p.tile !== id),
    narrow: spec.narrow.filter((t) => t !== id),
    filters: withoutTiles(spec.filters, ids),
  };
}

/** Puts a tile that stands by itself into a switch with another, or into one that is there. */
export function joinTiles(spec: DashboardSpec, id: string, into: string): DashboardSpec {
  const moved = spec.tiles.find((t) => t.id === id);
  const target = spec.tiles.find((t) => t.id === into);
  if (!moved || !target || moved.kind === "switch" || moved === target) return spec;
  const joined: Tile =
    target.kind === "switch"
      ? { ...target, tiles: [...target.tiles, moved] }
      : { id: freshId(spec, "s"), title: "", note: "", kind: "switch", tiles: [target, moved] };
  return {
    ...spec,
    tiles: spec.tiles.filter((t) => t.id !== id).map((t) => (t.id === into ? joined : t)),
    wide: spec.wide.filter((p) => p.tile !== id).map((p) => (p.tile === into ? { ...p, tile: joined.id } : p)),
    narrow: spec.narrow.filter((t) => t !== id).map((t) => (t === into ? joined.id : t)),
  };
}

/**
 * Adds a filter on a column; it meets every tile that links lead from.
 * @param chosen the walk by which the column was found, for tiles from that source
 */
export function addFilter(
  spec: DashboardSpec,
  filter: Omit<DashboardFilter, "id" | "meets">,
  schema: Schema,
  queryOf: (tile: PlainTile) => QuerySpec | null,
  chosen?: { source: string; steps: Step[] },
): DashboardSpec {
  const met = plainTiles(spec).filter((tile) => chosen && queryOf(tile)?.source === chosen.source);
  const meets = Object.fromEntries(met.map((tile) => [tile.id, { steps: chosen?.steps ?? [] }]));
  return withMeetings({ ...spec, filters: [...spec.filters, { ...filter, id: freshId(spec, "f"), meets }] }, schema, queryOf);
}

export const changeFilter = (spec: DashboardSpec, id: string, next: Partial<DashboardFilter>): DashboardSpec => ({
  ...spec,
  filters: spec.filters.map((f) => (f.id === id ? { ...f, ...next } : f)),
});

/** Says for each filter how it meets each tile, where that has not been said yet: as it meets others from the same source, else by the links. */
function withMeetings(spec: DashboardSpec, schema: Schema, queryOf: (tile: PlainTile) => QuerySpec | null): DashboardSpec {
  const asked = plainTiles(spec).flatMap((tile) => {
    const query = queryOf(tile);
    return query ? [{ id: tile.id, query }] : [];
  });
  const filters = spec.filters.map((filter) => {
    const likewise = (source: string): Meeting | undefined => asked.flatMap(({ id, query }) => (query.source === source ? (filter.meets[id] ?? []) : []))[0];
    const meeting = ({ id, query }: (typeof asked)[number]): Meeting | null =>
      filter.meets[id] !== undefined ? filter.meets[id] : (likewise(query.source) ?? proposeMeeting(schema, query, filter));
    return { ...filter, meets: Object.fromEntries(asked.map((tile) => [tile.id, meeting(tile)])) };
  });
  return { ...spec, filters };
}

/** Moves or sizes a tile by keys; those it would lie on go below it. */
export function nudgeTile(spec: DashboardSpec, id: string, by: { x?: number; y?: number; w?: number; h?: number }): DashboardSpec {
  const old = spec.wide.find((p) => p.tile === id);
  if (!old) return spec;
  const w = Math.max(1, Math.min(COLUMNS, old.w + (by.w ?? 0)));
  const h = Math.max(2, Math.min(60, old.h + (by.h ?? 0)));
  const moved: Place = { tile: id, w, h, x: Math.max(0, Math.min(COLUMNS - w, old.x + (by.x ?? 0))), y: Math.max(0, old.y + (by.y ?? 0)) };
  return {
    ...spec,
    wide: settle(
      moved,
      spec.wide.filter((p) => p.tile !== id),
      by.y ?? 0,
    ),
  };
}

/** Lets tiles fall upward as far as there is room, the moved one keeping its place among them. */
function settle(moved: Place, others: Place[], down: number): Place[] {
  const order = [...others, moved].sort((a, b) => {
    // Moved down, it has to pass those beside its new place; moved up, it goes before them.
    const weight = (p: Place) => (p === moved ? p.y + (down > 0 ? 0.5 + p.h / 1000 : -0.5) : p.y);
    return weight(a) - weight(b) || a.x - b.x;
  });
  const settled: Place[] = [];
  for (const place of order) {
    let y = place.y;
    while (settled.some((p) => overlaps(p, { ...place, y }))) y++;
    while (y > 0 && !settled.some((p) => overlaps(p, { ...place, y: y - 1 }))) y--;
    settled.push({ ...place, y });
  }
  return settled;
}

/** The words of a text tile with its fields filled in; a field that names nothing stays as it is written. */
export const fillText = (text: string, fields: Record<string, string>): string =>
  text.replace(/\{([^{}]+)\}/g, (whole, name: string) => fields[name.trim().toLowerCase()] ?? whole);

/** Tiles in the order they are read: row by row, or on a narrow screen in an order of their own. */
export function readingOrder({ tiles, wide, narrow: own }: DashboardSpec, narrow: boolean): string[] {
  if (!narrow) return [...wide].sort((a, b) => a.y - b.y || a.x - b.x).map((p) => p.tile);
  return [...own, ...tiles.map((t) => t.id).filter((id) => !own.includes(id))];
}

/** What tiles can be made from, by name. */
type TileSources = Record<"queries" | "charts" | "pivots", { id: string; name: string }[]>;

/** A tile of a kind as it is first added, from the first thing it can be made from; null where there is none yet. */
export function firstTile(kind: Exclude<TileKind, "switch">, sources: TileSources): ((id: string) => PlainTile) | null {
  const titled = { title: "", note: "" };
  const [query] = sources.queries;
  const [chart] = sources.charts;
  const [pivot] = sources.pivots;
  switch (kind) {
    case "figure":
      return query
        ? (id) => ({
            ...titled,
            id,
            kind,
            title: query.name,
            query: query.id,
            figure: { id: "f", value: null, figure: "count", showAs: "asIs" },
            compare: null,
            lessIsBetter: false,
          })
        : null;
    case "chart":
      return chart ? (id) => ({ ...titled, id, kind, title: chart.name, chart: chart.id }) : null;
    case "pivot":
      return pivot ? (id) => ({ ...titled, id, kind, title: pivot.name, pivot: pivot.id }) : null;
    case "table":
      return query ? (id) => ({ ...titled, id, kind, title: query.name, query: query.id, columns: [], order: null, first: 8, search: false }) : null;
    case "text":
      return (id) => ({ ...titled, id, kind, text: "Seen on {today}, for {filters}." });
    case "picture":
      return (id) => ({ ...titled, id, kind, source: "", alt: "" });
    default:
      return kind satisfies never;
  }
}

/** Ticks a column of a table tile on or off, in the query's order; the last one stays. @returns none for all of them */
export function toggleTileColumn(shown: string[], all: string[], column: string): string[] {
  const now = shown.length > 0 ? shown : all;
  const next = now.includes(column) ? now.filter((c) => c !== column) : all.filter((c) => now.includes(c) || c === column);
  if (next.length === 0) return shown;
  return next.length === all.length && next.every((c, i) => c === all[i]) ? [] : next;
}

/** The order of a table tile by its choice in a list, "up" or "down" before the column's id; "" is the query's own. */
export function orderOfTile(choice: string): Extract<PlainTile, { kind: "table" }>["order"] {
  const [direction = "", column = ""] = choice.split(/ (.*)/s);
  return (direction === "up" || direction === "down") && column !== "" ? { column, direction } : null;
}

/** What a figure is held against by its choice in a list: an earlier time, a target yet to be typed, or nothing. */
export function comparedWith(choice: string): Extract<PlainTile, { kind: "figure" }>["compare"] {
  const by = EARLIER.find((x) => x === choice);
  if (by) return { kind: "earlier", by };
  return choice === "target" ? { kind: "target", value: "" } : null;
}
