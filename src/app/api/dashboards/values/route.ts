import { z } from "zod";
import { filterValuesSchema } from "@/core/dashboard/spec";
import { WORDS } from "@/features/dashboards/words";
import { Refusal } from "@/server/common/refusal";
import { posting } from "@/server/http/handle";
import { viewerOf } from "@/server/services/people/viewer";

const shape = z.object({ dashboard: z.string(), values: filterValuesSchema });

/** Keeps what a viewer has chosen on a dashboard, for them alone. */
export const POST = posting("viewer", shape, ({ dashboard, values }, { ws, request }) => {
  if (!ws.objects.open(dashboard)) throw new Refusal(404, WORDS.thisDashboardDoesNotExistAny);
  ws.catalogue.setViewerState(viewerOf(ws, request.headers), dashboard, values);
  return Response.json({});
});
