import { z } from "zod";
import { postingSpecSchema } from "@/core/posting/spec";
import { clientOf, posting } from "@/server/http/handle";
import { postOf } from "@/server/posting/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(z.object({ spec: postingSpecSchema, name: z.string().max(200), digest: z.string() }), async ({ spec, name, digest }, request) =>
  Response.json(await postOf(workspace(), spec, name, digest, { client: clientOf(request) })),
);
