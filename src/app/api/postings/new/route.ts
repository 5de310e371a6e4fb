import { z } from "zod";
import { pairsByName } from "@/core/posting/plan";
import { type PostingSpec, postingSourceSchema } from "@/core/posting/spec";
import { findTable, mayChange } from "@/core/schema/schema";
import { WORDS } from "@/features/postings/words";
import { Refusal } from "@/server/common/refusal";
import { posting } from "@/server/http/handle";
import { sourceOf } from "@/server/services/posting/source";

/** A draft posting from a source into a table, columns paired by their names. */
export const POST = posting("analyst", z.object({ source: postingSourceSchema, target: z.string() }), async ({ source, target }, { ws, caller }) => {
  const from = await sourceOf(ws, source, false, { client: caller.client });
  const schema = await ws.schema();
  const table = findTable(schema, target);
  if (!table || !mayChange(table)) throw new Refusal(404, WORDS.thisTableDoesNotExist);
  const pairs = pairsByName(from.table, table, schema);
  const same = table.key.filter((k) => pairs.some((p) => p.column === k));
  const spec: PostingSpec = { version: 1, source, action: "add", target, same, present: "leave", breaking: "refuse", pairs };
  return Response.json({ id: ws.objects.createNumbered("posting", WORDS.draftName(from.name, table.label), spec).id });
});
