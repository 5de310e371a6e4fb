import { z } from "zod";
import { posting } from "@/server/http/handle";
import { keepMap, mapSchema } from "@/server/services/links/map";

/** Keeps where a person put the tables of the map. */
export const POST = posting("analyst", z.object({ places: mapSchema }), ({ places }, { ws }) => {
  keepMap(ws, places);
  return Response.json({});
});
