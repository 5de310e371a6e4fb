import { z } from "zod";
import { posting } from "@/server/http/handle";
import { reversalPreviewOf } from "@/server/services/posting/service";

/** What taking a posting back would do. */
export const POST = posting("analyst", z.object({ number: z.number().int(), force: z.boolean() }), async ({ number, force }, { ws, caller }) =>
  Response.json(await reversalPreviewOf(ws, number, force, caller)),
);
