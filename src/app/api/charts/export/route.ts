import { z } from "zod";
import { CHART_FORMATS } from "@/core/chart/spec";
import { chartQuestionSchema, writeChart } from "@/server/charts/service";
import { fileName, fileResponse, temporaryPath } from "@/server/http/download";
import { clientOf, posting } from "@/server/http/handle";
import { workspace } from "@/server/workspace/workspace";

const shape = chartQuestionSchema.extend({ name: z.string().max(200), format: z.enum(CHART_FORMATS) });

export const POST = posting(shape, async ({ name, format, ...question }, request) => {
  const ws = workspace();
  const path = temporaryPath(ws.folder, format);
  await writeChart(ws, question, { format, path, title: name }, { client: clientOf(request), signal: request.signal });
  return fileResponse(path, fileName(name, format), true);
});
