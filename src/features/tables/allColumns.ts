import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import type { Table } from "@/core/schema/schema";

/** All columns of a table. @param first those being made or changed stand first, where they are seen */
export function allColumns(table: Table, order: QuerySpec["order"], first: string[] = []): QuerySpec {
  const shown = table.columns.filter((c) => !c.derived?.broken);
  const columns = [...[...new Set(first)].flatMap((name) => shown.filter((c) => c.name === name)), ...shown.filter((c) => !first.includes(c.name))];
  return { ...emptyQuery(table.name), columns: columns.map((c) => ({ id: c.name, value: { kind: "field", join: "", column: c.name } })), order };
}
