import { listOf, listSchema } from "@/server/catalogue/lists";
import { posting } from "@/server/http/handle";

export const POST = posting("viewer", listSchema, async ({ kind, ...asked }, { ws }) => Response.json(await listOf(ws, kind, asked)));
