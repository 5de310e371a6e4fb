import { z } from "zod";
import { clientOf, posting } from "@/server/http/handle";
import { checkFootings, reportJob, reportQuestionSchema } from "@/server/reports/service";
import { workspace } from "@/server/workspace/workspace";

const shape = reportQuestionSchema.extend({ from: z.number().int().min(1), to: z.number().int().min(1) });

export const POST = posting(shape, async ({ spec, from, to }, request) => {
  const ws = workspace();
  const caller = { client: clientOf(request), signal: request.signal };
  const report = await reportJob(ws, spec);
  const laid = await ws.engine.run<"reportPages">({ kind: "reportPages", database: ws.database, report, from, to: Math.min(to, from + 20) }, caller);
  const proof = await checkFootings(ws, report, laid.outline, caller);
  const columns = report.plan.columns.map(({ id, heading, type, format }) => ({ id, heading, type, format }));
  return Response.json({ ...laid, proof, columns, parameters: report.plan.parameters });
});
