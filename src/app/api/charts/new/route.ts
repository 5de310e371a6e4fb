import { z } from "zod";
import { shelvesOf, suitedKinds } from "@/core/chart/kinds";
import { newChart } from "@/core/chart/newChart";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { probeValues } from "@/core/query/parameters";
import { tableOfPlan } from "@/core/query/planTable";
import { WORDS } from "@/features/charts/words";
import { posting } from "@/server/http/handle";
import { firstPivotOf } from "@/server/services/pivots/service";
import { madeOfSchema, queryToUse } from "@/server/services/queries/ownQuery";
import { planOf } from "@/server/services/queries/service";

const shape = z.object({ ...madeOfSchema, pivot: pivotSpecSchema.optional(), name: z.string().max(200).optional() });

/** Makes a chart of a query, or of a pivot as it stands; its kind is the one that suits best. */
export const POST = posting("analyst", shape, async ({ pivot, name, ...of }, { ws, caller }) => {
  const saved = await queryToUse(ws, of);
  const plan = await planOf(ws, saved.spec, { ...probeValues(saved.spec.parameters), ...pivot?.parameters });
  const first = pivot ?? (await firstPivotOf(ws, saved.id, plan, caller));
  // What ran down a pivot splits a chart; where nothing runs across, it runs along.
  const turned = first.across.length === 0 ? { ...first, across: first.down, down: [] } : first;
  const one = {
    ...turned,
    down: turned.down.slice(0, 1),
    across: turned.across.map((a) => ({ ...a, empty: true, subtotal: "none" as const })),
    figures: turned.figures.filter((f) => f.showAs === "asIs"),
  };
  const table = tableOfPlan(plan);
  const chart = newChart(one, "bars");
  const [kind = "bars"] = suitedKinds(shelvesOf(chart, table));
  saved.keep();
  return Response.json(ws.objects.createNumbered("chart", WORDS.chartOf(name ?? saved.name), { ...chart, kind }));
});
