import { z } from "zod";
import { CHART_FORMATS } from "@/core/chart/choices";
import { chartSpecSchema } from "@/core/chart/spec";
import { parameterValuesSchema } from "@/core/query/spec";
import { exportResponse, temporaryPath } from "@/server/http/download";
import { posting } from "@/server/http/handle";
import { writeChart } from "@/server/services/charts/service";
import { described, specOf } from "@/server/services/people/described";

const shape = z.object({ ...described(chartSpecSchema), values: parameterValuesSchema, name: z.string().max(200), format: z.enum(CHART_FORMATS) });

export const POST = posting("viewer", shape, async ({ name, format, values, ...asked }, { ws, caller }) => {
  const path = temporaryPath(ws.folder, format);
  await writeChart(ws, { spec: specOf(ws, asked, "chart", chartSpecSchema), values }, { format, path, title: name }, caller);
  return exportResponse(ws, path, name, format);
});
