import { posting } from "@/server/http/handle";
import { oneSideSchema, onOneSide } from "@/server/services/queries/onOneSide";

export const POST = posting("analyst", oneSideSchema, async (question, { ws, caller }) => Response.json(await onOneSide(ws, question, caller)));
