import { z } from "zod";
import { postingSpecSchema } from "@/core/posting/spec";
import { clientOf, posting } from "@/server/http/handle";
import { previewOf } from "@/server/posting/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(z.object({ spec: postingSpecSchema }), async ({ spec }, request) =>
  Response.json(await previewOf(workspace(), spec, { client: clientOf(request), signal: request.signal })),
);
