import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import type { Table } from "@/core/schema/schema";

/** All columns of a table; the one being made stands first, where it is seen. */
export function allColumns(table: Table, order: QuerySpec["order"], first?: string): QuerySpec {
  const shown = table.columns.filter((c) => !c.derived?.broken);
  const columns = [...shown.filter((c) => c.name === first), ...shown.filter((c) => c.name !== first)];
  return { ...emptyQuery(table.name), columns: columns.map((c) => ({ id: c.name, value: { kind: "field", join: "", column: c.name } })), order };
}
