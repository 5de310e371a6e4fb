import { z } from "zod";
import { postingSpecSchema } from "@/core/posting/spec";
import { posting } from "@/server/http/handle";
import { postOf } from "@/server/services/posting/service";

export const POST = posting(
  "analyst",
  z.object({ spec: postingSpecSchema, name: z.string().max(200), digest: z.string(), again: z.boolean().default(false) }),
  async ({ spec, name, digest, again }, { ws, caller }) => Response.json(await postOf(ws, spec, { name, digest, again }, { client: caller.client })),
);
