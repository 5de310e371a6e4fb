import { z } from "zod";
import { posting } from "@/server/http/handle";
import { dropOf } from "@/server/services/shape/service";

/** Deletes a table; its entry in the journal brings it back. */
export const POST = posting("analyst", z.object({ table: z.string() }), async ({ table }, { ws, caller: { client } }) =>
  Response.json(await dropOf(ws, table, { client })),
);
