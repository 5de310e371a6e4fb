import { posting } from "@/server/http/handle";
import { choicesOf, choicesQuestionSchema } from "@/server/services/dashboards/service";

export const POST = posting("viewer", choicesQuestionSchema, async (question, { ws, caller }) => Response.json(await choicesOf(ws, question, caller)));
