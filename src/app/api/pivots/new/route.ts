import { z } from "zod";
import { FEW_GROUPS, firstPivot } from "@/core/pivot/edit";
import { emptyPivot } from "@/core/pivot/spec";
import { probeValues } from "@/core/query/operands";
import { tableOfPlan } from "@/core/query/over";
import { isNumber } from "@/core/types/valueType";
import { clientOf, posting } from "@/server/http/handle";
import { differentTexts } from "@/server/pivots/service";
import { planOf, savedQuery } from "@/server/queries/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(z.object({ query: z.string() }), async ({ query }, request) => {
  const ws = workspace();
  const { name, spec } = savedQuery(ws, query);
  const plan = await planOf(ws, spec, probeValues(spec.parameters));
  const totalled = new Set(plan.columns.filter((c) => c.totalled).map((c) => c.id));
  const different = await differentTexts(ws, plan, { client: clientOf(request), signal: request.signal });
  const few = (name: string) => (different.get(name) ?? 0) > 1 && (different.get(name) ?? 0) <= FEW_GROUPS;
  const first = firstPivot(
    emptyPivot(query),
    tableOfPlan(plan),
    (c) => isNumber(c.type) && totalled.has(c.name),
    (c) => few(c.name),
  );
  return Response.json(ws.catalogue.create("pivot", `${name}, pivot`, first));
});
