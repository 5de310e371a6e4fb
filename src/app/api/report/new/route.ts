import { z } from "zod";
import { probeValues } from "@/core/query/operands";
import { parameterValuesSchema, querySpecSchema } from "@/core/query/spec";
import { firstReport } from "@/core/report/plan";
import { reportSpecSchema } from "@/core/report/spec";
import { posting, Refusal } from "@/server/http/handle";
import { planOf } from "@/server/queries/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(
  z.object({ query: z.string(), values: parameterValuesSchema, closing: reportSpecSchema.shape.closing }),
  async ({ query, values, closing }) => {
    const ws = workspace();
    const saved = ws.catalogue.get(query);
    if (saved?.kind !== "query") throw new Refusal(404, "This query is gone. Choose another.");
    const spec = querySpecSchema.parse(saved.spec);
    const plan = await planOf(ws, spec, { ...probeValues(spec.parameters), ...values });
    return Response.json(
      ws.catalogue.create("report", `${saved.name}, report`, { ...firstReport(query, saved.name, plan), parameters: values, ...(closing ? { closing } : {}) }),
    );
  },
);
