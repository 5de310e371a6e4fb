import { posting } from "@/server/http/handle";
import { doWithSeveral, severalSchema } from "@/server/services/objects/lists";

/** Files, notes, shares or deletes several objects at once, all of them or none. */
export const POST = posting("analyst", severalSchema, (asked, { ws }) => {
  doWithSeveral(ws, asked);
  return Response.json({});
});
