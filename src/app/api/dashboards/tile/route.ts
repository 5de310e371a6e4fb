import { tileOf, tileQuestionSchema } from "@/server/dashboards/service";
import { dashboardOf } from "@/server/dashboards/tileRows";
import { posting } from "@/server/http/handle";

export const POST = posting("viewer", tileQuestionSchema, async ({ spec, object, ...question }, { ws, caller }) =>
  Response.json(await tileOf(ws, { ...question, spec: dashboardOf(ws, { spec, object }) }, ws.today, caller)),
);
