import { z } from "zod";
import { disposition } from "@/server/http/download";
import { getting, posting } from "@/server/http/handle";
import { definitionsFile, looseSchema, planDefinitions, takeDefinitions } from "@/server/services/objects/definitions";

/** Saved objects as a file: those named by `id`, with what they are made from; all, where none is. */
export const GET = getting("analyst", ({ ws, request }) => {
  const ids = new URL(request.url).searchParams.getAll("id");
  return new Response(definitionsFile(ws, ids), {
    headers: { "content-type": "application/json; charset=utf-8", "content-disposition": disposition("definitions.json") },
  });
});

/** What a file would change; with `take`, changes it. */
export const POST = posting("analyst", z.object({ file: looseSchema, take: z.boolean() }), async ({ file, take }, { ws }) => {
  if (take) return Response.json({ changed: takeDefinitions(ws, file.objects) });
  return Response.json(await planDefinitions(ws, file.objects));
});
