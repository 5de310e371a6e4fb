import { z } from "zod";
import { mergeShape } from "@/server/duplicates/mergeShape";
import { mergeOf } from "@/server/duplicates/service";
import { posting } from "@/server/http/handle";

/** Merges rows as their preview showed. */
export const POST = posting("analyst", mergeShape.extend({ digest: z.string() }), async ({ digest, ...merge }, { ws, caller: { client } }) =>
  Response.json(await mergeOf(ws, merge, digest, { client })),
);
