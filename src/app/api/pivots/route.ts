import { posting } from "@/server/http/handle";
import { pivotOf, pivotQuestionSchema } from "@/server/pivots/service";

export const POST = posting("analyst", pivotQuestionSchema, async (question, { ws, caller }) => {
  const body = await pivotOf(ws, question, caller);
  return new Response(new Uint8Array(body), { headers: { "content-type": "application/json" } });
});
