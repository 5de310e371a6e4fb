import { z } from "zod";
import { clientOf, posting } from "@/server/http/handle";
import { questionSchema, rowsOf } from "@/server/queries/service";
import { workspace } from "@/server/workspace/workspace";

const shape = questionSchema.extend({ offset: z.number().int().min(0), rows: z.number().int().min(1).max(1000) });

export const POST = posting(shape, async ({ offset, rows, ...question }, request) => {
  const body = await rowsOf(workspace(), question, { offset, rows }, { client: clientOf(request), signal: request.signal });
  return new Response(new Uint8Array(body), { headers: { "content-type": "application/json" } });
});
