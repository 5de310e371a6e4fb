import { z } from "zod";
import { DASHBOARD_FORMATS } from "@/core/dashboard/choices";
import { dashboardSpecSchema, filterValuesSchema } from "@/core/dashboard/spec";
import { exportResponse, temporaryPath } from "@/server/http/download";
import { posting } from "@/server/http/handle";
import { dashboardOf } from "@/server/services/dashboards/tileRows";
import { writeDashboard } from "@/server/services/dashboards/write";
import { described } from "@/server/services/people/described";

const shape = z.object({ ...described(dashboardSpecSchema), values: filterValuesSchema, name: z.string().max(200), format: z.enum(DASHBOARD_FORMATS) });

export const POST = posting("viewer", shape, async ({ name, format, values, ...asked }, { ws, caller }) => {
  const path = temporaryPath(ws.folder, format);
  await writeDashboard(ws, { spec: dashboardOf(ws, asked), values }, { format, path, title: name }, caller);
  return exportResponse(ws, path, name, format);
});
