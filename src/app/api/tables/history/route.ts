import { z } from "zod";
import { posting } from "@/server/http/handle";
import { rowHistoryOf } from "@/server/services/posting/service";

const shape = z.object({ table: z.string(), key: z.array(z.string().max(2000)).max(20) });

/** What was done to one row. */
export const POST = posting("analyst", shape, async ({ table, key }, { ws, caller }) => Response.json(await rowHistoryOf(ws, table, key, caller)));
