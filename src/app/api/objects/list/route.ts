import { posting } from "@/server/http/handle";
import { listOf, listSchema } from "@/server/services/objects/lists";

export const POST = posting("viewer", listSchema, async ({ kind, ...asked }, { ws }) => Response.json(await listOf(ws, kind, asked)));
