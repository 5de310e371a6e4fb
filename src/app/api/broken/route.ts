import { posting } from "@/server/http/handle";
import { replaceInAll, replaceSchema } from "@/server/services/desk/missing";

/** What broken objects would be with something else in the place of what they miss; with `take`, makes them so. */
export const POST = posting("analyst", replaceSchema, async (asked, { ws }) => Response.json(await replaceInAll(ws, asked)));
