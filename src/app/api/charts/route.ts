import { chartOf, chartQuestionSchema } from "@/server/charts/service";
import { clientOf, posting } from "@/server/http/handle";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(chartQuestionSchema, async (question, request) => {
  const body = await chartOf(workspace(), question, { client: clientOf(request), signal: request.signal });
  return new Response(new Uint8Array(body), { headers: { "content-type": "application/json" } });
});
