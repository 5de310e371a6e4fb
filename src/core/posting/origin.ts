import { queryOfTable } from "../query/choices";
import type { QuerySpec } from "../query/spec";
import { findTable, type Schema } from "../schema/schema";

/** A query that shows the key of the table its rows are those of: by the key's columns, the ids of the query's. */
export type KeyedQuery = { query: QuerySpec; table: string; key: { column: string; id: string }[] };

/**
 * A query with the key of its table's rows among its columns, so that each row can be found again in that table.
 * @returns null where its rows are not those of one table: groups, rows of several tables put together, or of another query
 */
export function withKey(query: QuerySpec, schema: Schema): KeyedQuery | null {
  const table = queryOfTable(query.source) === null ? findTable(schema, query.source) : undefined;
  if (!table || table.view || query.grouped || query.stack || query.compare) return null;
  const columns = [...query.columns];
  const key = table.key.map((column) => {
    const shown = columns.find(({ value, figure, hidden }) => value?.kind === "field" && value.join === "" && value.column === column && !figure && !hidden);
    if (shown) return { column, id: shown.id };
    const id = freeId(columns.map((c) => c.id));
    columns.push({ id, value: { kind: "field", join: "", column } });
    return { column, id };
  });
  return { query: { ...query, columns }, table: table.name, key };
}

function freeId(taken: string[]): string {
  for (let n = 1; ; n++) if (!taken.includes(`key${n}`)) return `key${n}`;
}
