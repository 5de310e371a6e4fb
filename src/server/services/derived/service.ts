import { derivedType } from "@/core/derive/derive";
import { derivedFieldSchema } from "@/core/derive/spec";
import { isProblem } from "@/core/expression/check";
import { findTable } from "@/core/schema/schema";
import { ProblemError, problem } from "@/core/types/problem";
import type { Workspace } from "@/server/services/workspace/workspace";

/**
 * Whether a derived field may be saved: its name is free in its table and it can be worked out, without a circle.
 * @param id the field that is being changed, if it is not a new one
 * @throws ProblemError with what stands in the way
 */
export async function checkDerived(ws: Workspace, name: string, spec: unknown, id?: string): Promise<void> {
  const field = { ...derivedFieldSchema.parse(spec), id: id ?? "new", label: name };
  const schema = await ws.schema();
  const others = findTable(schema, field.table)?.columns.filter((c) => c.name !== id) ?? [];
  if (others.some((c) => c.label.toLowerCase() === name.toLowerCase() || c.name.toLowerCase() === name.toLowerCase()))
    throw new ProblemError([problem("duplicateName", ["name"], { name })]);
  const found = derivedType(field, schema, ws.today);
  if (isProblem(found)) throw new ProblemError([found]);
  if (!id) return;
  const broken = (await ws.schemaWith({ ...field, id })).broken?.find((b) => b.id === id);
  if (broken) throw new ProblemError([problem("derivedBroken", ["definition"], { field: name, why: broken.why })]);
}
