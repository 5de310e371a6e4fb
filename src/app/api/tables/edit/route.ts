import { z } from "zod";
import { MOST_BLOCK_CELLS } from "@/core/posting/block";
import { posting } from "@/server/http/handle";
import { editOf } from "@/server/services/posting/service";

const key = z.array(z.union([z.string(), z.number()])).max(20);
const cell = z.object({ column: z.string(), text: z.string().max(100_000), was: z.string().nullable() });
const block = z
  .array(z.object({ key, cells: z.array(cell).min(1).max(1000) }))
  .min(1)
  .refine((rows) => rows.reduce((sum, r) => sum + r.cells.length, 0) <= MOST_BLOCK_CELLS, "The block is too large. Import it instead, under Tables.");
const values = z.record(z.string(), z.string().max(100_000));
const rows = z
  .array(values)
  .min(1)
  .refine((list) => list.reduce((sum, r) => sum + Object.keys(r).length, 0) <= MOST_BLOCK_CELLS, "These are too many rows. Import them instead, under Tables.");
const change = z.discriminatedUnion("kind", [
  cell.extend({ kind: z.literal("change"), key }),
  z.object({ kind: z.literal("block"), rows: block }),
  z.object({ kind: z.literal("add"), values }),
  z.object({ kind: z.literal("rows"), rows }),
  z.object({ kind: z.literal("remove"), keys: z.array(key).min(1).max(1000) }),
]);

/** One change made in a table's sheet. */
export const POST = posting("analyst", z.object({ table: z.string(), change }), async ({ table, change: made }, { ws, caller }) =>
  Response.json(await editOf(ws, table, made, { client: caller.client })),
);
