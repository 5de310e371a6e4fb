import { z } from "zod";
import { posting } from "@/server/http/handle";
import { editOf } from "@/server/posting/service";

const key = z.array(z.union([z.string(), z.number()])).max(20);
const change = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("change"), key, column: z.string(), text: z.string().max(100_000), was: z.string().nullable() }),
  z.object({ kind: z.literal("add"), values: z.record(z.string(), z.string().max(100_000)) }),
  z.object({ kind: z.literal("remove"), keys: z.array(key).min(1).max(1000) }),
]);

/** One change made in a table's sheet. */
export const POST = posting("analyst", z.object({ table: z.string(), change }), async ({ table, change: made }, { ws, caller }) =>
  Response.json(await editOf(ws, table, made, { client: caller.client })),
);
