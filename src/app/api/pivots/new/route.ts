import { z } from "zod";
import { probeValues } from "@/core/query/operands";
import { clientOf, posting } from "@/server/http/handle";
import { firstPivotOf } from "@/server/pivots/service";
import { planOf, savedQuery } from "@/server/queries/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(z.object({ query: z.string() }), async ({ query }, request) => {
  const ws = workspace();
  const { name, spec } = savedQuery(ws, query);
  const plan = await planOf(ws, spec, probeValues(spec.parameters));
  return Response.json(
    ws.catalogue.create("pivot", `${name}, pivot`, await firstPivotOf(ws, query, plan, { client: clientOf(request), signal: request.signal })),
  );
});
