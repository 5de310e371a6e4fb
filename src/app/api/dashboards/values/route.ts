import { z } from "zod";
import { filterValuesSchema } from "@/core/dashboard/spec";
import { posting, Refusal } from "@/server/http/handle";
import { viewerOf } from "@/server/people/viewer";
import { workspace } from "@/server/workspace/workspace";

/** Keeps what a viewer has chosen on a dashboard, for them alone. */
export const POST = posting(z.object({ dashboard: z.string(), values: filterValuesSchema }), ({ dashboard, values }, request) => {
  const { catalogue } = workspace();
  if (catalogue.get(dashboard)?.kind !== "dashboard") throw new Refusal(404, "This dashboard is gone.");
  catalogue.setViewerState(viewerOf(request.headers), dashboard, values);
  return Response.json({});
});
