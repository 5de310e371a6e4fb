import { panelQuery, type RowCells, rowQuery } from "@/core/folio/panel";
import { shownOf } from "@/core/folio/shown";
import type { FolioSpec } from "@/core/folio/spec";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import type { Cell } from "@/core/types/valueType";
import { type Ahead, type Asked, answersAhead } from "@/server/http/ahead";
import type { Sources } from "@/server/services/dashboards/sources";
import type { Workspace } from "@/server/services/workspace/workspace";
import { tilesAsked } from "../dashboards/tileAsked";
import { queryOfTile } from "../dashboards/tileRows";
import { namesAhead } from "../queries/queryAhead";
import { footingAsked, rowsAsked } from "../queries/questions";

/** What is asked for the first rows of a query and its footing. */
const onceAsked = (spec: QuerySpec, rows: number): Asked[] => [rowsAsked({ spec, values: {} }, 0, rows), footingAsked({ spec, values: {} })];

type Folio = { spec: FolioSpec; table: Table; schema: Schema; key: string[]; sources: Sources };

/** What a row's page asks first: the row, and then by its values what belongs to it. */
export async function folioAhead(ws: Workspace, { spec, table, schema, key, sources }: Folio): Promise<Ahead> {
  const query = rowQuery(table, key);
  const began = performance.now();
  const ownAsked = onceAsked(query, 1);
  const own = await answersAhead(ws, ownAsked, began);
  const row = (own.find((a) => a.path === "/api/query/rows")?.answer as Cell[][] | undefined)?.[0];
  const resolved = resolveQuery(query, schema, { today: ws.today, values: {}, person: ws.knownAs });
  if (!row || !resolved.ok) return own;
  const cells: RowCells = Object.fromEntries(resolved.value.columns.map((c, i) => [c.id, row[i] ?? null]));
  const panels = spec.panels.flatMap((panel) => {
    const bound = panelQuery(panel, table, cells, schema);
    return bound.ok ? onceAsked(bound.value, panel.first) : [];
  });
  const tiles = (spec.shown ?? []).flatMap((shown) => {
    const over = queryOfTile(sources, shown);
    const tile = over && shownOf(shown, over, table, cells, schema);
    return tile ? tilesAsked(tile, null, {}) : [];
  });
  const came = [...own, ...(await answersAhead(ws, [...panels, ...tiles], began))];
  return [...came, ...(await namesAhead(ws, schema, [...ownAsked, ...panels], came, began))];
}
