import { z } from "zod";
import { posting } from "@/server/http/handle";

/** Links that the data speaks for, of one table or of all. */
export const POST = posting("analyst", z.object({ table: z.string().nullable() }), async ({ table }, { ws, caller }) => {
  await ws.needWhole([table]);
  const job = { kind: "suggestLinks" as const, database: ws.database, schema: await ws.schema(), table };
  return Response.json(await ws.engine.run<"suggestLinks">(job, caller));
});
