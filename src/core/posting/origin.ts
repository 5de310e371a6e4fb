import { queryOfTable } from "../query/choices";
import type { QuerySpec } from "../query/spec";
import { findTable, type Schema, storedColumns } from "../schema/schema";

/** A query that shows whole rows of the table that its rows are those of: by the table's columns, the ids of the query's. */
export type RowQuery = { query: QuerySpec; table: string; columns: { column: string; id: string }[] };

/**
 * A query with every stored column of its table among its own, so that its rows can be moved whole and found again.
 * @returns null where its rows are not those of one table: groups, rows of several tables put together, or of another query
 */
export function withWholeRows(query: QuerySpec, schema: Schema): RowQuery | null {
  const table = queryOfTable(query.source) === null ? findTable(schema, query.source) : undefined;
  if (!table || table.view || query.grouped || query.stack || query.compare) return null;
  const shown = [...query.columns];
  const columns = storedColumns(table).map(({ name: column }) => {
    const own = shown.find(({ value, figure, hidden }) => value?.kind === "field" && value.join === "" && value.column === column && !figure && !hidden);
    if (own) return { column, id: own.id };
    const id = freeId(shown.map((c) => c.id));
    shown.push({ id, value: { kind: "field", join: "", column } });
    return { column, id };
  });
  return { query: { ...query, columns: shown }, table: table.name, columns };
}

function freeId(taken: string[]): string {
  for (let n = 1; ; n++) if (!taken.includes(`row${n}`)) return `row${n}`;
}
