import { clientOf, posting } from "@/server/http/handle";
import { footingOf, questionSchema } from "@/server/queries/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(questionSchema, async (question, request) =>
  Response.json(await footingOf(workspace(), question, { client: clientOf(request), signal: request.signal })),
);
