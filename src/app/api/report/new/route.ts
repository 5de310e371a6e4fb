import { z } from "zod";
import { probeValues } from "@/core/query/operands";
import { parameterValuesSchema } from "@/core/query/spec";
import { firstReport } from "@/core/report/plan";
import { reportSpecSchema } from "@/core/report/spec";
import { WORDS } from "@/features/reports/words";
import { posting } from "@/server/http/handle";
import { savedQuery } from "@/server/queries/saved";
import { planOf } from "@/server/queries/service";
import { settingsOf } from "@/server/workspace/settings";

const shape = z.object({ query: z.string(), values: parameterValuesSchema, closing: reportSpecSchema.shape.closing });

export const POST = posting("analyst", shape, async ({ query, values, closing }, { ws }) => {
  const { name, spec } = savedQuery(ws, query);
  const plan = await planOf(ws, spec, { ...probeValues(spec.parameters), ...values });
  const report = { ...firstReport(query, name, plan, settingsOf(ws).paper), parameters: values, ...(closing ? { closing } : {}) };
  return Response.json(ws.objects.create("report", WORDS.reportOf(name), report));
});
