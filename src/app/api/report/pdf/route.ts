import { z } from "zod";
import { exportResponse, temporaryPath } from "@/server/http/download";
import { posting } from "@/server/http/handle";
import { reportJob, reportOf, reportQuestionSchema, writeReportPdf } from "@/server/reports/service";

const shape = reportQuestionSchema.extend({ name: z.string().max(200) });

export const POST = posting("viewer", shape, async ({ name, ...asked }, { ws, caller }) => {
  const path = temporaryPath(ws.folder, "pdf");
  await writeReportPdf(ws, await reportJob(ws, reportOf(ws, asked)), path, caller);
  return exportResponse(ws, path, name, "pdf");
});
