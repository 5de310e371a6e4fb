import { z } from "zod";
import { clientOf, posting } from "@/server/http/handle";
import { previewFile } from "@/server/posting/service";
import { workspace } from "@/server/workspace/workspace";

const shape = z.object({
  id: z.string(),
  outcomes: z.array(z.string()).max(20),
  offset: z.number().int().min(0),
  rows: z.number().int().min(1).max(1000),
  backwards: z.boolean(),
});

/** A page of the rows of a preview. */
export const POST = posting(shape, async ({ id, ...page }, request) => {
  const ws = workspace();
  const job = { kind: "previewRows" as const, path: previewFile(ws, id), ...page };
  const body = await ws.engine.run<"previewRows">(job, { client: clientOf(request), signal: request.signal });
  return new Response(new Uint8Array(body), { headers: { "content-type": "application/json" } });
});
