import { z } from "zod";
import { shapeSpecSchema } from "@/core/shape/spec";
import { posting } from "@/server/http/handle";
import { shapeOf } from "@/server/services/shape/service";

/** Changes a table, or makes one, as a survey of it was looked at. */
export const POST = posting("analyst", z.object({ spec: shapeSpecSchema, digest: z.string() }), async ({ spec, digest }, { ws, caller: { client } }) =>
  // A change is not given up midway because a window was closed.
  Response.json(await shapeOf(ws, spec, digest, { client })),
);
