import { clientOf, posting } from "@/server/http/handle";
import { pivotOf, pivotQuestionSchema } from "@/server/pivots/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(pivotQuestionSchema, async (question, request) => {
  const body = await pivotOf(workspace(), question, { client: clientOf(request), signal: request.signal });
  return new Response(new Uint8Array(body), { headers: { "content-type": "application/json" } });
});
