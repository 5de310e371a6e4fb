import { tileOf, tileQuestionSchema } from "@/server/dashboards/service";
import { clientOf, posting } from "@/server/http/handle";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(tileQuestionSchema, async (question, request) => {
  const ws = workspace();
  return Response.json(await tileOf(ws, question, { person: ws.person, today: ws.today }, { client: clientOf(request), signal: request.signal }));
});
