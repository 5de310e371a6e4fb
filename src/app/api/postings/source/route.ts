import { z } from "zod";
import { postingSourceSchema } from "@/core/posting/spec";
import { clientOf, posting } from "@/server/http/handle";
import { sourceOf } from "@/server/posting/service";
import { workspace } from "@/server/workspace/workspace";

/** The columns that a posting's source has, and its name. */
export const POST = posting(z.object({ source: postingSourceSchema }), async ({ source }, request) => {
  const { table, name } = await sourceOf(workspace(), source, { client: clientOf(request), signal: request.signal });
  return Response.json({ table, name });
});
