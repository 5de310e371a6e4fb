import { z } from "zod";
import { posting } from "@/server/http/handle";
import { reverseOf } from "@/server/services/posting/service";

const shape = z.object({ number: z.number().int(), force: z.boolean(), digest: z.string().optional() });

/** Takes a posting back; without the digest of a preview, only if nothing would be left behind. */
export const POST = posting("analyst", shape, async ({ number, force, digest }, { ws, caller: { client } }) => {
  // A posting is not given up midway because a window was closed.
  return Response.json(await reverseOf(ws, number, force, digest ?? null, { client }));
});
