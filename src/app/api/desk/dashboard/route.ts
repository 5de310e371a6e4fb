import { z } from "zod";
import { WORDS } from "@/features/dashboards/words";
import { Refusal } from "@/server/common/refusal";
import { posting } from "@/server/http/handle";

/** Puts a dashboard on everyone's desk, or takes it away. */
export const POST = posting("owner", z.object({ dashboard: z.string().nullable() }), ({ dashboard }, { ws }) => {
  if (dashboard !== null && ws.objects.open(dashboard)?.kind !== "dashboard") throw new Refusal(404, WORDS.thisDashboardDoesNotExist);
  ws.catalogue.setSetting("desk dashboard", dashboard ?? "");
  return Response.json({});
});
