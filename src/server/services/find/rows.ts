import Fuse from "fuse.js";
import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import { rowNameColumn } from "@/core/schema/rowNames";
import type { Column, Table } from "@/core/schema/schema";
import type { Cell } from "@/core/types/valueType";
import { rowsOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";

/** A row found by what it is called; its key opens its folio. */
export type FoundRow = { table: string; label: string; key: string[]; name: string };

const MOST_A_TABLE = 3;
const MOST = 8;
/** Names that are only like the words are looked for among so many rows of a table at most. */
const MOST_ALIKE = 2000;
/** Shorter words are like too many names. */
const LEAST_ALIKE = 4;

type Caller = { client: string; signal?: AbortSignal | undefined };
type Named = { table: Table; named: Column };

/**
 * Finds rows whose name contains the words, in every table whose rows have a key and a name, as far as the one who works here may
 * see them; where there is none, those with a name like the words, in tables that are not too long. A table that cannot be read is
 * left out.
 */
export async function findRows(ws: Workspace, words: string, caller: Caller): Promise<FoundRow[]> {
  const schema = await ws.schema();
  const tables = schema.tables.flatMap((table): Named[] => {
    const named = rowNameColumn(table);
    return named && table.key.length > 0 && !table.view ? [{ table, named }] : [];
  });
  const found: FoundRow[] = [];
  for (const { table, named } of tables) {
    const conditions: QuerySpec["conditions"] = [{ id: "w", left: fieldOf(named.name), operator: "contains", values: [{ kind: "value", text: words }] }];
    found.push(...(await namesIn(ws, { table, named }, conditions, MOST_A_TABLE, caller)));
    if (found.length >= MOST) break;
  }
  return found.length > 0 || words.length < LEAST_ALIKE ? found.slice(0, MOST) : namesLike(ws, tables, words, caller);
}

/** Rows with a name like the words, the likest first: typing errors are forgiven. */
async function namesLike(ws: Workspace, tables: Named[], words: string, caller: Caller): Promise<FoundRow[]> {
  const names: FoundRow[] = [];
  for (const { table, named } of tables) if (table.rows <= MOST_ALIKE) names.push(...(await namesIn(ws, { table, named }, [], MOST_ALIKE, caller)));
  const fuse = new Fuse(names, { keys: ["name"], threshold: 0.34, ignoreLocation: true, ignoreDiacritics: true });
  return fuse.search(words, { limit: MOST_A_TABLE }).map((r) => r.item);
}

const fieldOf = (column: string) => ({ kind: "field" as const, join: "", column });

/** The rows of a table that meet conditions, by name. */
async function namesIn(ws: Workspace, { table, named }: Named, conditions: QuerySpec["conditions"], most: number, caller: Caller): Promise<FoundRow[]> {
  const spec: QuerySpec = {
    ...emptyQuery(table.name),
    columns: [...table.key.map((k, i) => ({ id: `k${i}`, value: fieldOf(k) })), { id: "name", value: fieldOf(named.name) }],
    conditions,
    order: [{ column: "name", direction: "up" }],
    limit: most,
  };
  try {
    const rows = JSON.parse((await rowsOf(ws, { spec, values: {} }, { offset: 0, rows: most }, caller)).toString()) as Cell[][];
    return rows.flatMap((row): FoundRow[] => {
      const name = row.at(-1) ?? null;
      return name === null ? [] : [{ table: table.name, label: table.label, key: row.slice(0, -1).map(String), name: String(name) }];
    });
  } catch (error) {
    if (caller.signal?.aborted) throw error;
    return [];
  }
}
