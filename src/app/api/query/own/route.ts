import { z } from "zod";
import { posting } from "@/server/http/handle";
import { queryToUse } from "@/server/services/queries/ownQuery";
import { OWN_QUERY } from "@/server/services/queries/saved";

/** A query without a name over a table, for one tile. */
export const POST = posting("analyst", z.object({ table: z.string().max(200) }), async (of, { ws }) => {
  const { id, spec, keep } = await queryToUse(ws, of);
  keep();
  return Response.json({ id, name: OWN_QUERY, spec });
});
