import type { DashboardSpec, FilterValues } from "@/core/dashboard/spec";
import { emptyDashboard, plainTiles } from "@/core/dashboard/tiles";
import type { Asked } from "@/server/http/ahead";

/** Where a dashboard that is only looked at is asked about: what is sent names it, and is worked out there. */
export type Asks<Path = string> = {
  tile: { path: Path; body: (question: object) => object };
  choices: { path: string; body: (filter: string) => object };
};

/** How a dashboard that is only looked at asks: by naming what is saved. */
export const asksOfSaved = (object: string): Asks<Asked["path"]> => ({
  tile: { path: "/api/dashboards/tile", body: (question) => ({ object, ...question }) },
  choices: { path: "/api/dashboards/choices", body: (filter) => ({ object, filter }) },
});

/** What of a dashboard a tile's answer depends on: itself, and the filters that meet it with the values they have. */
function questionOf(spec: DashboardSpec, id: string, values: FilterValues): { spec: DashboardSpec; tile: string; values: FilterValues } {
  const tile = plainTiles(spec).find((t) => t.id === id);
  const filters = spec.filters.flatMap((f) => (f.meets[id] ? [{ ...f, label: f.id, meets: { [id]: f.meets[id] } }] : []));
  const own = Object.fromEntries(filters.flatMap((f) => (values[f.id] === undefined ? [] : [[f.id, values[f.id] ?? null]])));
  return { spec: { ...emptyDashboard(), tiles: tile ? [{ ...tile, title: "", note: "" }] : [], filters }, tile: id, values: own };
}

/** What is asked for a tile. @param search in a table's rows */
export function tileAsked<Path extends string>(spec: DashboardSpec, asks: Asks<Path> | null, tile: string, values: FilterValues, search: string) {
  const { spec: bare, ...question } = questionOf(spec, tile, values);
  if (asks) return { path: asks.tile.path, body: asks.tile.body({ ...question, search }) };
  return { path: "/api/dashboards/tile" as const, body: { spec: bare, ...question, search } };
}

/** What a dashboard's page asks first: each tile that is worked out from data. */
export const tilesAsked = (spec: DashboardSpec, asks: Asks<Asked["path"]> | null, values: FilterValues): Asked[] =>
  spec.tiles.flatMap((tile) => {
    const shown = tile.kind === "switch" ? tile.tiles[0] : tile;
    return shown && shown.kind !== "text" && shown.kind !== "picture" ? [tileAsked(spec, asks, shown.id, values, "")] : [];
  });
