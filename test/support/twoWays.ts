import { expect } from "vitest";
import { type AnswerPath, answerTo } from "@/server/http/answers";
import type { Workspace } from "@/server/services/workspace/workspace";

/* The same question to two workspaces over the same data, each read by another engine. */

const plain = (answer: unknown): unknown => (Buffer.isBuffer(answer) ? JSON.parse(answer.toString()) : answer);

/** Floating figures depend on the order in which they are added; which engine answered is another. */
const compared = (answer: unknown): unknown =>
  JSON.parse(
    JSON.stringify(plain(answer), (key, value) => {
      if (key === "answeredBy") return undefined;
      // Of which columns it was counted that all values fit hangs on what is known of them.
      if (key === "misfits") return Object.fromEntries(Object.entries(value).filter(([, count]) => count !== 0));
      return typeof value === "number" && !Number.isInteger(value) ? Number(value.toPrecision(9)) : value;
    }),
  );

/** What a workspace answers; a refusal in its words. */
export const answerOf = (ws: Workspace, path: AnswerPath, body: unknown): Promise<unknown> =>
  answerTo(ws, path, body, { client: "test", signal: new AbortController().signal }).then(plain, (error: Error) => ({ refused: error.message }));

/** Asks both, and expects the same answer of them: none that is refused. @returns what the other said */
export async function agree(here: Workspace, there: Workspace, name: string, path: AnswerPath, body: unknown): Promise<unknown> {
  const [own, other] = [await answerOf(here, path, body), await answerOf(there, path, body)];
  expect(own, `${name}: ${JSON.stringify(own).slice(0, 500)}`).not.toHaveProperty("refused");
  expect(compared(other), `${name} ${path}`).toEqual(compared(own));
  return other;
}
