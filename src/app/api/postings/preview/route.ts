import { z } from "zod";
import { postingSpecSchema } from "@/core/posting/spec";
import { posting } from "@/server/http/handle";
import { previewOf } from "@/server/services/posting/service";

export const POST = posting("analyst", z.object({ spec: postingSpecSchema }), async ({ spec }, { ws, caller }) =>
  Response.json(await previewOf(ws, spec, caller)),
);
