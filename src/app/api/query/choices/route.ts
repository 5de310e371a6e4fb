import { posting } from "@/server/http/handle";
import { choicesFrom, choicesSchema } from "@/server/queries/service";

export const POST = posting("analyst", choicesSchema, async (question, { ws, caller }) => Response.json(await choicesFrom(ws, question, caller)));
