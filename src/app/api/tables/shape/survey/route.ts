import { z } from "zod";
import { shapeSpecSchema } from "@/core/shape/spec";
import { posting } from "@/server/http/handle";
import { surveyOf } from "@/server/services/shape/service";

/** What a change of a table would come to. */
export const POST = posting("analyst", z.object({ spec: shapeSpecSchema }), async ({ spec }, { ws, caller }) =>
  Response.json(await surveyOf(ws, spec, caller)),
);
