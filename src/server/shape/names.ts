import { linkSpecSchema } from "@/core/schema/linkSpec";
import { endNamed, type ShapeNames } from "@/core/shape/shapedSchema";
import { carryRowName } from "@/server/catalogue/rowNames";
import type { Workspace } from "@/server/workspace/workspace";

/** Whether what the ledger knows of a table is under other names from now on. */
const isRenamed = ({ from, to, columns }: ShapeNames): boolean => from !== to || columns.some(([name, next]) => next !== null && next !== name);

/**
 * Takes along what people said of a table that has other names now: units, labels and notes of its columns, what its rows
 * are called by, the links they made, and the table of its derived fields. Formulas and saved descriptions say what they said.
 */
export function carryNames(ws: Workspace, names: ShapeNames): void {
  if (!isRenamed(names)) return;
  const { catalogue } = ws;
  const named = (column: string): string => names.columns.find(([from]) => from === column)?.[1] ?? column;
  catalogue.renameColumns(names.from, names.to, named);
  carryRowName(catalogue, names.from, names.to, named);
  for (const { id, spec, revision } of catalogue.list("link")) {
    const read = linkSpecSchema.safeParse(spec);
    if (!read.success) continue;
    const [a, b] = [endNamed(read.data.a, names) ?? read.data.a, endNamed(read.data.b, names) ?? read.data.b];
    if (JSON.stringify([a, b]) !== JSON.stringify([read.data.a, read.data.b])) catalogue.save(id, { spec: { ...read.data, a, b } }, revision);
  }
  if (names.from === names.to) return;
  for (const { id, spec, revision } of catalogue.list("derived"))
    if ((spec as { table?: unknown }).table === names.from) catalogue.save(id, { spec: { ...(spec as object), table: names.to } }, revision);
}
