import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import { nameColumn } from "@/core/schema/nameColumn";
import type { Cell } from "@/core/types/valueType";
import { rowsOf } from "@/server/queries/service";
import type { Workspace } from "@/server/workspace/workspace";

/** A row found by what it is called; its key opens its folio. */
export type FoundRow = { table: string; label: string; key: string[]; name: string };

const MOST_A_TABLE = 3;
const MOST = 8;

type Caller = { client: string; signal?: AbortSignal | undefined };

/**
 * Finds rows whose name contains the words, in every table whose rows have a key and a name, as far as the one who works here may
 * see them. A table that cannot be read is left out.
 */
export async function findRows(ws: Workspace, words: string, caller: Caller): Promise<FoundRow[]> {
  const schema = await ws.schema();
  const found: FoundRow[] = [];
  for (const table of schema.tables) {
    const named = nameColumn(table);
    if (!named || table.key.length === 0 || table.view) continue;
    const column = (name: string, id: string) => ({ id, value: { kind: "field" as const, join: "", column: name } });
    const spec: QuerySpec = {
      ...emptyQuery(table.name),
      columns: [...table.key.map((k, i) => column(k, `k${i}`)), column(named.name, "name")],
      conditions: [{ id: "w", left: column(named.name, "w").value, operator: "contains", values: [{ kind: "value", text: words }] }],
      order: [{ column: "name", direction: "up" }],
      limit: MOST_A_TABLE,
    };
    try {
      const rows = JSON.parse((await rowsOf(ws, { spec, values: {} }, { offset: 0, rows: MOST_A_TABLE }, caller)).toString()) as Cell[][];
      for (const row of rows) found.push({ table: table.name, label: table.label, key: row.slice(0, -1).map(String), name: String(row.at(-1)) });
    } catch (error) {
      if (caller.signal?.aborted) throw error;
    }
    if (found.length >= MOST) break;
  }
  return found.slice(0, MOST);
}
