import { posting } from "@/server/http/handle";
import { footingOf, questionSchema } from "@/server/queries/service";

export const POST = posting("viewer", questionSchema, async (question, { ws, caller }) => Response.json(await footingOf(ws, question, caller)));
