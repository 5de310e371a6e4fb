import { describe, expect, it, vi } from "vitest";
import { JobFailure } from "@/server/source/failures";
import { SharedWork } from "./shared";

/** Work that ends when the test says so. */
function pretend() {
  const runs: { end: (answer: unknown) => void; fail: () => void; stopped: () => boolean }[] = [];
  const work = (signal: AbortSignal) =>
    new Promise((resolve, reject) => {
      signal.addEventListener("abort", () => reject(new JobFailure("stopped")));
      runs.push({ end: resolve, fail: () => reject(new JobFailure("locked")), stopped: () => signal.aborted });
    });
  const shared = new SharedWork();
  return { runs, ask: (key: string, signal?: AbortSignal, keepMs = 0) => shared.run(key, signal, work, keepMs) };
}

describe("work asked for together", () => {
  it("is done once for all who ask the same, and anew for anything else", async () => {
    const { runs, ask } = pretend();
    const asked = [ask("a"), ask("a"), ask("b")];
    expect(runs).toHaveLength(2);
    for (const [i, r] of runs.entries()) r.end(i);
    expect(await Promise.all(asked)).toEqual([0, 0, 1]);
    void ask("a");
    expect(runs, "an answer given is not kept").toHaveLength(3);
  });
  it("goes on while anyone waits, and stops when nobody does", async () => {
    const { runs, ask } = pretend();
    const [one, two] = [new AbortController(), new AbortController()];
    const asked = [one, two].map(({ signal }) => ask("a", signal).catch((e: JobFailure) => e.code));
    one.abort();
    expect(await asked[0]).toBe("stopped");
    expect(runs[0]?.stopped()).toBe(false);
    two.abort();
    expect(await asked[1]).toBe("stopped");
    expect(runs[0]?.stopped()).toBe(true);
  });
  it("is kept for a while for who is about to ask the same, and no longer", async () => {
    vi.useFakeTimers();
    const { runs, ask } = pretend();
    const ahead = ask("a", undefined, 100);
    runs[0]?.end("early");
    await ahead;
    await vi.advanceTimersByTimeAsync(99);
    const again = ask("a");
    expect(runs).toHaveLength(1);
    expect(await again).toBe("early");
    await vi.advanceTimersByTimeAsync(1);
    void ask("a");
    expect(runs).toHaveLength(2);
    vi.useRealTimers();
  });
  it("fails for all who wait", async () => {
    const { runs, ask } = pretend();
    const asked = [ask("a"), ask("a")];
    runs[0]?.fail();
    await expect(Promise.all(asked)).rejects.toThrow(/locked/);
  });
});
