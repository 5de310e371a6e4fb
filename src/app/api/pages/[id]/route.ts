import { z } from "zod";
import { posting } from "@/server/http/handle";
import { answerPage, pageQuestionSchema } from "@/server/services/pages/answer";
import { pageInside } from "@/server/services/pages/inside";

type Context = { params: Promise<{ id: string }> };

/** What somebody signed in asks of a page that is shared with them, or of a query seen as one: under their own rules on rows. */
export async function POST(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return posting("viewer", z.object({ question: pageQuestionSchema }), async ({ question }, { ws, caller }) =>
    Response.json(await answerPage(ws, await pageInside(ws, id), question, caller)),
  )(request);
}
