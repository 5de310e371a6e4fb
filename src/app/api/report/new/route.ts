import { z } from "zod";
import { querySpecSchema } from "@/core/query/spec";
import { firstReport } from "@/core/report/plan";
import { posting, Refusal } from "@/server/http/handle";
import { planOf } from "@/server/queries/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(z.object({ query: z.string() }), async ({ query }) => {
  const ws = workspace();
  const saved = ws.catalogue.get(query);
  if (saved?.kind !== "query") throw new Refusal(404, "This query is gone. Choose another.");
  const plan = await planOf(ws, querySpecSchema.parse(saved.spec), {});
  return Response.json(ws.catalogue.create("report", `${saved.name}, report`, firstReport(query, saved.name, plan)));
});
