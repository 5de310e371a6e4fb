import { z } from "zod";
import { postingSourceSchema } from "@/core/posting/spec";
import { posting } from "@/server/http/handle";
import { sourceOf } from "@/server/posting/service";

/** The columns that a posting's source has, and its name. */
export const POST = posting("analyst", z.object({ source: postingSourceSchema }), async ({ source }, { ws, caller }) => {
  const { table, name } = await sourceOf(ws, source, caller);
  return Response.json({ table, name });
});
