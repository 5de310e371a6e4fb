import { z } from "zod";
import { ACTIONS } from "@/core/posting/choices";
import { postingSourceSchema } from "@/core/posting/spec";
import { posting } from "@/server/http/handle";
import { sourcesOf } from "@/server/services/posting/source";

const shape = z.object({
  steps: z
    .array(z.object({ source: postingSourceSchema, action: z.enum(ACTIONS) }))
    .min(1)
    .max(10),
});

/** The columns that the source of each step has, its name, and the table whose rows it has. */
export const POST = posting("analyst", shape, async ({ steps }, { ws, caller }) => {
  const sources = await sourcesOf(ws, steps, caller);
  return Response.json(sources.map(({ table, name, origin }) => ({ table, name, origin: origin?.table ?? null })));
});
