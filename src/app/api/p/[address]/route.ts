import { z } from "zod";
import { ProblemError } from "@/core/types/problem";
import { WORDS } from "@/features/pages/words";
import { Refusal } from "@/server/common/refusal";
import { posting } from "@/server/http/handle";
import { answerPage, pageQuestionSchema } from "@/server/services/pages/answer";
import { checkPass, letIn, pageAt } from "@/server/services/pages/published";
import { workspace } from "@/server/services/workspace/here";

const shape = z.union([z.object({ passcode: z.string().max(500) }), z.object({ pass: z.string().max(200).optional(), question: pageQuestionSchema })]);

type Context = { params: Promise<{ address: string }> };

/** What a visitor without an account asks of a published page. */
export async function POST(request: Request, { params }: Context): Promise<Response> {
  const { address } = await params;
  return posting("open", shape, async (body, { caller }) => {
    const { ws, page, publication } = pageAt(workspace(), address);
    if ("passcode" in body) return Response.json({ pass: await letIn(ws, publication, body.passcode) });
    checkPass(ws, publication, body.pass);
    try {
      return Response.json(await answerPage(ws, page, body.question, { ...caller, client: `page ${publication.object}` }));
    } catch (error) {
      throw withoutNames(error);
    }
  })(request);
}

/** What is wrong with what a visitor filled in is told them; what is wrong with the page names tables and columns, and is not. */
function withoutNames(error: unknown): unknown {
  const own = !(error instanceof ProblemError) || error.problems.every((p) => p.path[0] === "fields");
  return own ? error : new Refusal(503, WORDS.thisPageCannotBeShown);
}
