import { z } from "zod";
import { clientOf, posting } from "@/server/http/handle";
import { workspace } from "@/server/workspace/workspace";

/** Links that the data speaks for, of one table or of all. */
export const POST = posting(z.object({ table: z.string().nullable() }), async ({ table }, request) => {
  const ws = workspace();
  const job = { kind: "suggestLinks" as const, database: ws.database, schema: await ws.schema(), table };
  return Response.json(await ws.engine.run<"suggestLinks">(job, { client: clientOf(request), signal: request.signal }));
});
