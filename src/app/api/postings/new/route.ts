import { z } from "zod";
import { pairsByName } from "@/core/posting/plan";
import { type PostingSpec, postingSourceSchema } from "@/core/posting/spec";
import { findTable } from "@/core/schema/schema";
import { clientOf, posting, Refusal } from "@/server/http/handle";
import { sourceOf } from "@/server/posting/service";
import { workspace } from "@/server/workspace/workspace";

/** A draft posting from a source into a table, columns paired by their names. */
export const POST = posting(z.object({ source: postingSourceSchema, target: z.string() }), async ({ source, target }, request) => {
  const ws = workspace();
  const from = await sourceOf(ws, source, { client: clientOf(request) });
  const schema = await ws.schema();
  const table = findTable(schema, target);
  if (!table || table.view) throw new Refusal(404, "There is no such table to post into. Choose another.");
  const pairs = pairsByName(from.table, table, schema);
  const same = table.key.filter((k) => pairs.some((p) => p.column === k));
  const spec: PostingSpec = { version: 1, source, action: "add", target, same, present: "leave", breaking: "refuse", pairs };
  return Response.json({ id: ws.catalogue.create("posting", `${from.name} into ${table.label}`, spec).id });
});
