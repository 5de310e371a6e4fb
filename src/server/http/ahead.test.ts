import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Workspace } from "@/server/services/workspace/workspace";
import { answersAhead } from "./ahead";

const ws = { signedIn: { id: "p1" } } as unknown as Workspace;
const own = (path: string, afterMs: number, answer: unknown, aside?: true) => ({
  path,
  body: { asked: path },
  ...(aside ? { aside } : {}),
  answer: async () => {
    await new Promise((done) => setTimeout(done, afterMs));
    if (answer instanceof Error) throw answer;
    return answer;
  },
});
const came = async (asked: ReturnType<typeof own>[]) => {
  const answers = answersAhead(ws, asked);
  await vi.advanceTimersByTimeAsync(1_000);
  return (await answers).map(({ path, answer }) => [path, answer]);
};

describe("the answers that come with a page", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it("are those that are there in time; what fails or is late is left for the browser to ask", async () => {
    expect(await came([own("quick", 20, 1), own("late", 600, 2), own("wrong", 10, new Error("no")), own("text", 5, Buffer.from("[3]"))])).toEqual([
      ["text", [3]],
      ["quick", 1],
    ]);
  });
  it("do not wait long for what stands aside, and wait for the others no longer than they take", async () => {
    expect(await came([own("main", 100, 1), own("beside", 240, 2, true), own("far", 300, 3, true)])).toEqual([
      ["main", 1],
      ["beside", 2],
    ]);
    const since = Date.now();
    const answers = answersAhead(ws, [own("main", 30, 1), own("beside", 40, 2, true)]);
    await vi.advanceTimersToNextTimerAsync();
    await vi.advanceTimersToNextTimerAsync();
    expect(await answers).toHaveLength(2);
    expect(Date.now() - since).toBe(40);
  });
  it("wait no longer in several steps than in one", async () => {
    const step = async (began: number, ...asked: ReturnType<typeof own>[]) => {
      const answers = answersAhead(ws, asked, began);
      await vi.advanceTimersByTimeAsync(1_000);
      return (await answers).map((a) => a.path);
    };
    const now = performance.now();
    expect(await step(now - 200, own("soon", 40, 1), own("late", 220, 2))).toEqual(["soon"]);
    expect(await step(performance.now() - 390, own("soon", 5, 1), own("late", 20, 2))).toEqual(["soon"]);
    expect(await step(performance.now() - 1_000, own("late", 5, 1))).toEqual([]);
  });
  it("are known by the body as a browser sends it", async () => {
    const answers = answersAhead(ws, [own("a", 1, 1)]);
    await vi.advanceTimersByTimeAsync(300);
    expect((await answers)[0]?.body).toBe('{"asked":"a"}');
  });
});
