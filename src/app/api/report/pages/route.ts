import { z } from "zod";
import { posting } from "@/server/http/handle";
import { checkFootings, reportJob, reportOf, reportQuestionSchema } from "@/server/reports/service";

const shape = reportQuestionSchema.extend({ from: z.number().int().min(1), to: z.number().int().min(1) });

export const POST = posting("viewer", shape, async ({ from, to, ...asked }, { ws, caller }) => {
  const report = await reportJob(ws, reportOf(ws, asked));
  const laid = await ws.engine.run<"reportPages">({ kind: "reportPages", database: ws.database, report, from, to: Math.min(to, from + 20) }, caller);
  const proof = await checkFootings(ws, report, laid.outline, caller);
  const columns = report.plan.columns.map(({ id, heading, type, format }) => ({ id, heading, type, format }));
  return Response.json({ ...laid, proof, columns, parameters: report.plan.parameters });
});
