import { z } from "zod";
import { posting } from "@/server/http/handle";
import { pin } from "@/server/services/desk/visits";

/** Pins an object or a table to one's own desk, or unpins it. */
export const POST = posting("viewer", z.object({ object: z.string().max(300), pinned: z.boolean() }), ({ object, pinned }, { ws }) => {
  pin(ws, object, pinned);
  return Response.json({});
});
