import { clientOf, posting } from "@/server/http/handle";
import { letterProof, letterQuestionSchema } from "@/server/letters/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(letterQuestionSchema, async (question, request) =>
  Response.json(await letterProof(workspace(), question, { client: clientOf(request), signal: request.signal })),
);
