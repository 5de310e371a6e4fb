import { z } from "zod";
import { chooseRowName } from "@/server/catalogue/rowNames";
import { posting } from "@/server/http/handle";

const shape = z.object({ table: z.string().max(200), column: z.string().max(200).nullable() });

/** Chooses the column that rows of a table are called by; "" for none, null to leave it to what the columns are called. */
export const POST = posting("analyst", shape, ({ table, column }, { ws }) => {
  ws.needUnbound();
  chooseRowName(ws.catalogue, table, column);
  return Response.json({});
});
