import { posting } from "@/server/http/handle";
import { pairsSchema, pairsToCompare } from "@/server/services/queries/pairs";

export const POST = posting("analyst", pairsSchema, async (question, { ws, caller }) => Response.json(await pairsToCompare(ws, question, caller)));
