import type { Workspace } from "@/server/services/workspace/workspace";
import { type AnswerPath, answerTo } from "./answers";
import type { Caller } from "./handle";

/** How long a page waits for its first answers; what takes longer the browser asks for. */
const WAIT_MS = 250;
/** How much longer it waits for those that stand beside them. */
const ASIDE_MS = 150;
/** How long what a page began, or its answer, waits for its browser to ask for it. */
const HEAD_START_MS = 10_000;

/** A question as a browser sends it; `aside` where the page can do without its answer for a moment. */
export type Asked = { path: AnswerPath; body: unknown; aside?: true };
/** A question to a route of a page's own, with its answer. */
type Own = { path: string; body: unknown; aside?: true; answer: (caller: Caller) => Promise<unknown> };
/** Answers that come with a page: to which question (its body as it would be sent), and in how many seconds. */
export type Ahead = { path: string; body: string; answer: unknown; seconds: number }[];

const after = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/**
 * What a page's first questions are answered by the time the page goes out. What fails or takes longer is left out: the
 * browser asks again, and joins the work that is under way.
 * @param began when the page began to wait, where it asks in several steps: together they take no longer than one
 */
export async function answersAhead(ws: Workspace, asked: (Asked | Own)[], began = performance.now()): Promise<Ahead> {
  const since = performance.now();
  const caller = { client: ws.signedIn?.id ?? "someone", signal: AbortSignal.timeout(HEAD_START_MS) };
  const found: Ahead = [];
  const take = async (question: Asked | Own): Promise<void> => {
    const { path, body } = question;
    const answer = await ("answer" in question ? question.answer(caller) : answerTo(ws, question.path, body, caller, HEAD_START_MS));
    const seconds = (performance.now() - since) / 1000;
    found.push({ path, body: JSON.stringify(body), answer: Buffer.isBuffer(answer) ? JSON.parse(answer.toString()) : answer, seconds });
  };
  const working = asked.map((question) => take(question).catch(() => {}));
  const firsts = working.filter((_, i) => !asked[i]?.aside);
  const left = (most: number) => Math.max(0, most - (performance.now() - began));
  await Promise.race([Promise.all(firsts), after(left(WAIT_MS))]);
  await Promise.race([Promise.all(working), after(Math.min(ASIDE_MS, left(WAIT_MS + ASIDE_MS)))]);
  return [...found];
}
