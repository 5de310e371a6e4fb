import { z } from "zod";
import { linkSpecSchema } from "@/core/schema/linkSpec";
import { posting } from "@/server/http/handle";
import { checkLink } from "@/server/services/links/service";

/** What a link would find, before it is made. */
export const POST = posting("analyst", z.object({ spec: linkSpecSchema }), async ({ spec }, { ws, caller }) => {
  await checkLink(ws, spec);
  await ws.needWhole([spec.a.table, spec.b.table]);
  const job = { kind: "linkEvidence" as const, database: ws.database, spec };
  return Response.json(await ws.engine.run<"linkEvidence">(job, caller));
});
