import { z } from "zod";
import { choicesOf } from "@/server/dashboards/service";
import { clientOf, posting } from "@/server/http/handle";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(z.object({ table: z.string(), column: z.string() }), async ({ table, column }, request) =>
  Response.json(await choicesOf(workspace(), table, column, { client: clientOf(request), signal: request.signal })),
);
