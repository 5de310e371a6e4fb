import { z } from "zod";
import { probeValues } from "@/core/query/parameters";
import { WORDS } from "@/features/pivots/words";
import { posting } from "@/server/http/handle";
import { firstPivotOf } from "@/server/pivots/service";
import { savedQuery } from "@/server/queries/saved";
import { planOf } from "@/server/queries/service";

export const POST = posting("analyst", z.object({ query: z.string() }), async ({ query }, { ws, caller }) => {
  const { name, spec } = savedQuery(ws, query);
  const plan = await planOf(ws, spec, probeValues(spec.parameters));
  return Response.json(ws.objects.create("pivot", WORDS.pivotOf(name), await firstPivotOf(ws, query, plan, caller)));
});
