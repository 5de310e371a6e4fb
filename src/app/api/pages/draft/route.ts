import { z } from "zod";
import { pageSpecSchema } from "@/core/page/spec";
import { posting } from "@/server/http/handle";
import { answerPage, pageQuestionSchema } from "@/server/services/pages/answer";

/** What a page would answer as it is being built. */
export const POST = posting("analyst", z.object({ spec: pageSpecSchema, question: pageQuestionSchema }), async ({ spec, question }, { ws, caller }) =>
  Response.json(await answerPage(ws, spec, question, caller)),
);
