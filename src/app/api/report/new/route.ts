import { z } from "zod";
import { probeValues } from "@/core/query/parameters";
import { parameterValuesSchema } from "@/core/query/spec";
import { firstReport } from "@/core/report/plan";
import { closingSchema } from "@/core/report/spec";
import { WORDS } from "@/features/reports/words";
import { posting } from "@/server/http/handle";
import { madeOfSchema, queryToUse } from "@/server/services/queries/ownQuery";
import { planOf } from "@/server/services/queries/service";
import { settingsOf } from "@/server/services/workspace/settings";

const shape = z.object({ ...madeOfSchema, values: parameterValuesSchema, closing: closingSchema.optional() });

/** A report of a query; one for a pivot or chart shows that, under what the rows come to: who wants all rows turns them on. */
export const POST = posting("analyst", shape, async ({ values, closing, ...of }, { ws }) => {
  const { id: query, name: queryName, spec, keep } = await queryToUse(ws, of);
  const [shown] = closing ?? [];
  const name = (shown && ws.objects.get(shown.id)?.name) || queryName;
  const plan = await planOf(ws, spec, { ...probeValues(spec.parameters), ...values });
  const report = { ...firstReport(query, name, plan, settingsOf(ws).paper), parameters: values, ...(closing ? { closing, details: false } : {}) };
  keep();
  return Response.json(ws.objects.createNumbered("report", WORDS.reportOf(name), report));
});
