import { posting } from "@/server/http/handle";
import { pivotQuestionSchema, pivotRecountOf } from "@/server/pivots/service";

export const POST = posting("analyst", pivotQuestionSchema, async (question, { ws, caller }) => Response.json(await pivotRecountOf(ws, question, caller)));
