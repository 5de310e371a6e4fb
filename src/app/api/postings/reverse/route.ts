import { z } from "zod";
import { clientOf, posting } from "@/server/http/handle";
import { reversalPreviewOf, reverseOf } from "@/server/posting/service";
import { workspace } from "@/server/workspace/workspace";

const shape = z.object({ number: z.number().int(), force: z.boolean(), digest: z.string().optional() });

/** Takes a posting back; without the digest of a preview, only if nothing would be left behind. */
export const POST = posting(shape, async ({ number, force, digest }, request) => {
  const caller = { client: clientOf(request) };
  const seen = digest ?? (await reversalPreviewOf(workspace(), number, force, caller)).reversal.digest;
  return Response.json(await reverseOf(workspace(), number, force, seen, caller));
});
