import { posting } from "@/server/http/handle";
import { proofOf, questionSchema } from "@/server/queries/service";

export const POST = posting("viewer", questionSchema, async (question, { ws, caller }) => Response.json(await proofOf(ws, question, caller)));
