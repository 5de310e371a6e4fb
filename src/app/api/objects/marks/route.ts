import { posting } from "@/server/http/handle";
import { marksOf, marksSchema } from "@/server/services/objects/lists";

export const POST = posting("analyst", marksSchema, async ({ ids }, { ws }) => Response.json(await marksOf(ws, ids)));
