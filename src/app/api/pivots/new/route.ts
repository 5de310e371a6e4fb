import { z } from "zod";
import { probeValues } from "@/core/query/operands";
import { posting } from "@/server/http/handle";
import { firstPivotOf } from "@/server/pivots/service";
import { savedQuery } from "@/server/queries/saved";
import { planOf } from "@/server/queries/service";

export const POST = posting("analyst", z.object({ query: z.string() }), async ({ query }, { ws, caller }) => {
  const { name, spec } = savedQuery(ws, query);
  const plan = await planOf(ws, spec, probeValues(spec.parameters));
  return Response.json(ws.objects.create("pivot", `${name}, pivot`, await firstPivotOf(ws, query, plan, caller)));
});
