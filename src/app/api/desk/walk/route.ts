import { z } from "zod";
import { WALK_STEPS } from "@/core/desk/walk";
import { posting } from "@/server/http/handle";
import { closeWalk, walkStep } from "@/server/services/desk/walk";

const shape = z.union([z.object({ step: z.enum(WALK_STEPS) }), z.object({ close: z.literal(true) })]);

/** Ticks a step of the demo's walk off, or closes the walk. */
export const POST = posting("analyst", shape, (body, { ws }) => {
  if ("step" in body) walkStep(ws, body.step);
  else closeWalk(ws);
  return Response.json({});
});
