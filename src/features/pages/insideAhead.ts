import { type Ahead, answersAhead } from "@/server/http/ahead";
import { type About, answerPage, type PageQuestion } from "@/server/services/pages/answer";
import { pageInside } from "@/server/services/pages/inside";
import type { Workspace } from "@/server/services/workspace/workspace";
import { aboutAsked, firstSearch, searchAsked } from "./asking";

/** What a page asks first for somebody signed in: what it is, and where it is searched what it finds before anything is typed. */
export async function insideAhead(ws: Workspace, id: string): Promise<Ahead> {
  const asking = { path: `/api/pages/${id}`, with: {} };
  const answered = (question: PageQuestion) => ({
    path: asking.path,
    body: { ...asking.with, question },
    answer: async (caller: Parameters<typeof answerPage>[3]) => answerPage(ws, await pageInside(ws, id), question, caller),
  });
  const began = performance.now();
  const own = await answersAhead(ws, [answered(aboutAsked)], began);
  const about = own[0]?.answer as About | undefined;
  return about?.kind === "search" ? [...own, ...(await answersAhead(ws, [answered(searchAsked(firstSearch(about), 0))], began))] : own;
}
