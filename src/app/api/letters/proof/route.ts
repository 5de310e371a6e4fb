import { posting } from "@/server/http/handle";
import { letterProof, letterQuestionSchema } from "@/server/letters/service";

export const POST = posting("analyst", letterQuestionSchema, async (question, { ws, caller }) => Response.json(await letterProof(ws, question, caller)));
