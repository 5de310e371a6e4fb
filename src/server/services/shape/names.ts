import { linkSpecSchema } from "@/core/schema/linkSpec";
import { findTable, type Schema } from "@/core/schema/schema";
import { carried } from "@/core/shape/carry";
import { endNamed, type ShapeNames } from "@/core/shape/shapedSchema";
import type { ShapeSaid } from "@/core/shape/shapePlan";
import type { ValueType } from "@/core/types/valueType";
import { carryRowName } from "@/server/catalogue/rowNames";
import type { Workspace } from "@/server/services/workspace/workspace";

/** Whether what the ledger knows of a table is under other names from now on. */
const isRenamed = ({ from, to, columns }: ShapeNames): boolean => from !== to || columns.some(([name, next]) => next !== null && next !== name);

/**
 * Takes along what people said of a table that has other names now: units, labels and notes of its columns, what its rows
 * are called by, links, derived fields, and every saved description that names it.
 * @param before the schema in which these could be read
 */
export function carryNames(ws: Workspace, names: ShapeNames, before: Schema): void {
  if (!isRenamed(names)) return;
  const { catalogue } = ws;
  const named = (column: string): string => names.columns.find(([from]) => from === column)?.[1] ?? column;
  ws.recorded(() => {
    catalogue.renameColumns(names.from, names.to, named);
    carryRowName(catalogue, names.from, names.to, named);
    for (const { id, kind, spec, revision } of catalogue.list()) {
      const next = kind === "link" ? linkNamed(spec, names) : carried(spec, names, before);
      if (JSON.stringify(next) !== JSON.stringify(spec)) catalogue.save(id, { spec: next }, revision, ws.signedIn?.id ?? null);
    }
  });
}

/**
 * Sees to it that columns are read as what they were made: a type is said of those of which another was said before, or whose
 * declaration and values do not tell it.
 * @param types by the columns' names
 */
export async function holdTypes(ws: Workspace, table: string, types: [column: string, type: ValueType][]): Promise<void> {
  const found = findTable(await ws.schema(), table);
  for (const [column, type] of types) {
    const now = found?.columns.find((c) => c.name === column)?.type;
    if (now && JSON.stringify(now) !== JSON.stringify(type)) ws.catalogue.setColumn(table, column, { type });
  }
}

/** Keeps what is said of columns from now on. */
export function sayOfColumns(ws: Workspace, table: string, said: ShapeSaid[]): void {
  for (const { column, after } of said) ws.catalogue.setColumn(table, column, after);
}

/** A link that a person made, under the new names; one whose column is dropped stays as it is. */
function linkNamed(spec: unknown, names: ShapeNames): unknown {
  const read = linkSpecSchema.safeParse(spec);
  if (!read.success) return spec;
  const { a, b } = read.data;
  return { ...read.data, a: endNamed(a, names) ?? a, b: endNamed(b, names) ?? b };
}
