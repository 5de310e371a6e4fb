import { z } from "zod";
import { clientOf, posting } from "@/server/http/handle";
import { letterAt, letterQuestionSchema } from "@/server/letters/service";
import { workspace } from "@/server/workspace/workspace";

const shape = letterQuestionSchema.extend({ at: z.number().int().min(0) });

export const POST = posting(shape, async ({ at, ...question }, request) =>
  Response.json(await letterAt(workspace(), question, at, { client: clientOf(request), signal: request.signal })),
);
