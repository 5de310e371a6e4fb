import type { Schema, Table } from "@/core/schema/schema";
import { archiveOf } from "@/core/shape/edit";
import type { ShapePreview } from "@/server/services/shape/service";
import { ask } from "../ask";

/** Makes a table for the rows that are moved out of another, as an entry of the journal. @returns its name */
export async function makeArchive(origin: Table, schema: Schema): Promise<string> {
  const spec = archiveOf(
    origin,
    schema.tables.map((t) => t.name),
  );
  const { survey } = await ask<ShapePreview>("/api/tables/shape/survey", { spec });
  await ask("/api/tables/shape/change", { spec, digest: survey.digest });
  return spec.name;
}
