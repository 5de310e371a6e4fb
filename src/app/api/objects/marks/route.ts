import { marksOf, marksSchema } from "@/server/catalogue/lists";
import { posting } from "@/server/http/handle";

export const POST = posting("analyst", marksSchema, async ({ ids }, { ws }) => Response.json(await marksOf(ws, ids)));
