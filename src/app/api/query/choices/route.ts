import { posting } from "@/server/http/handle";
import { choicesFrom, choicesSchema } from "@/server/services/queries/choices";

export const POST = posting("analyst", choicesSchema, async (question, { ws, caller }) => Response.json(await choicesFrom(ws, question, caller)));
