import { z } from "zod";
import { REPORT_FORMATS } from "@/core/report/choices";
import { exportResponse, temporaryPath } from "@/server/http/download";
import { posting } from "@/server/http/handle";
import { reportJob, reportOf, reportQuestionSchema, writeReport } from "@/server/services/reports/service";

const shape = reportQuestionSchema.extend({ name: z.string().max(200), format: z.enum(REPORT_FORMATS).default("pdf") });

export const POST = posting("viewer", shape, async ({ name, format, ...asked }, { ws, caller }) => {
  const extension = format === "totals" ? "csv" : format;
  const path = temporaryPath(ws.folder, extension);
  await writeReport(ws, await reportJob(ws, reportOf(ws, asked)), { format, path }, caller);
  return exportResponse(ws, path, format === "totals" ? `${name}, totals` : name, extension);
});
