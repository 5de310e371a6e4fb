import { posting } from "@/server/http/handle";
import { frequentOf, frequentSchema } from "@/server/services/queries/profile";

export const POST = posting("analyst", frequentSchema, async (asked, { ws, caller }) => Response.json(await frequentOf(ws, asked, caller)));
