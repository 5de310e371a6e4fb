import { z } from "zod";
import { posting } from "@/server/http/handle";
import { dropUsesOf } from "@/server/shape/service";

/** What stops working without a table. */
export const POST = posting("analyst", z.object({ table: z.string() }), async ({ table }, { ws }) => Response.json(await dropUsesOf(ws, table)));
