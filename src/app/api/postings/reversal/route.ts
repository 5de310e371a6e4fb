import { z } from "zod";
import { clientOf, posting } from "@/server/http/handle";
import { reversalPreviewOf } from "@/server/posting/service";
import { workspace } from "@/server/workspace/workspace";

/** What taking a posting back would do. */
export const POST = posting(z.object({ number: z.number().int(), force: z.boolean() }), async ({ number, force }, request) =>
  Response.json(await reversalPreviewOf(workspace(), number, force, { client: clientOf(request), signal: request.signal })),
);
