import { z } from "zod";
import { posting } from "@/server/http/handle";
import { previewFile } from "@/server/services/posting/service";

const shape = z.object({
  id: z.string(),
  step: z.number().int().min(0).max(9),
  outcomes: z.array(z.string()).max(20),
  offset: z.number().int().min(0),
  rows: z.number().int().min(1).max(1000),
  backwards: z.boolean(),
});

/** A page of the rows of a preview. */
export const POST = posting("analyst", shape, async ({ id, ...page }, { ws, caller }) => {
  const job = { kind: "previewRows" as const, path: previewFile(ws, id), ...page };
  const body = await ws.engine.run<"previewRows">(job, caller);
  return new Response(new Uint8Array(body), { headers: { "content-type": "application/json" } });
});
