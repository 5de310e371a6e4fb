import { z } from "zod";
import { probeValues } from "@/core/query/parameters";
import { WORDS } from "@/features/pivots/words";
import { posting } from "@/server/http/handle";
import { firstPivotOf } from "@/server/services/pivots/service";
import { madeOfSchema, queryToUse } from "@/server/services/queries/ownQuery";
import { planOf } from "@/server/services/queries/service";

export const POST = posting("analyst", z.object(madeOfSchema), async (of, { ws, caller }) => {
  const query = await queryToUse(ws, of);
  const plan = await planOf(ws, query.spec, probeValues(query.spec.parameters));
  const pivot = await firstPivotOf(ws, query.id, plan, caller);
  query.keep();
  return Response.json(ws.objects.createNumbered("pivot", WORDS.pivotOf(query.name), pivot));
});
