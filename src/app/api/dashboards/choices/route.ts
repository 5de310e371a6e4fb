import { choicesOf, choicesQuestionSchema } from "@/server/dashboards/service";
import { posting } from "@/server/http/handle";

export const POST = posting("viewer", choicesQuestionSchema, async (question, { ws, caller }) => Response.json(await choicesOf(ws, question, caller)));
