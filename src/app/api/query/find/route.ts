import { posting } from "@/server/http/handle";
import { findInRows, findSchema } from "@/server/services/queries/find";

export const POST = posting("analyst", findSchema, async (asked, { ws, caller }) => Response.json(await findInRows(ws, asked, caller)));
