import { z } from "zod";
import { fileName, fileResponse, temporaryPath } from "@/server/http/download";
import { clientOf, posting } from "@/server/http/handle";
import { reportJob, reportQuestionSchema, writeReportPdf } from "@/server/reports/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(reportQuestionSchema.extend({ name: z.string().max(200) }), async ({ spec, name }, request) => {
  const ws = workspace();
  const path = temporaryPath(ws.folder, "pdf");
  await writeReportPdf(ws, await reportJob(ws, spec), path, { client: clientOf(request), signal: request.signal });
  return fileResponse(path, fileName(name, "pdf"), true);
});
