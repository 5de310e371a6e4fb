import { chartOf, chartQuestionSchema } from "@/server/charts/service";
import { posting } from "@/server/http/handle";

export const POST = posting("analyst", chartQuestionSchema, async (question, { ws, caller }) => {
  const body = await chartOf(ws, question, caller);
  return new Response(new Uint8Array(body), { headers: { "content-type": "application/json" } });
});
