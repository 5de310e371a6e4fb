import { z } from "zod";
import { linkSpecSchema } from "@/core/schema/linkSpec";
import { clientOf, posting } from "@/server/http/handle";
import { checkLink } from "@/server/links/service";
import { workspace } from "@/server/workspace/workspace";

/** What a link would find, before it is made. */
export const POST = posting(z.object({ spec: linkSpecSchema }), async ({ spec }, request) => {
  const ws = workspace();
  await checkLink(ws, spec);
  const job = { kind: "linkEvidence" as const, database: ws.database, spec };
  return Response.json(await ws.engine.run<"linkEvidence">(job, { client: clientOf(request), signal: request.signal }));
});
