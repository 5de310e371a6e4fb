import { z } from "zod";
import { posting } from "@/server/http/handle";
import { mergeShape } from "@/server/services/duplicates/mergeShape";
import { mergeOf } from "@/server/services/duplicates/service";

/** Merges rows as their preview showed. */
export const POST = posting("analyst", mergeShape.extend({ digest: z.string() }), async ({ digest, ...merge }, { ws, caller: { client } }) =>
  Response.json(await mergeOf(ws, merge, digest, { client })),
);
