import { describe, expect, it } from "vitest";
import type { Engine } from "./engine";
import { type Job, JobFailure } from "./jobs";
import { SharedJobs } from "./shared";

const job = (sql: string): Extract<Job, { kind: "singles" }> => ({ kind: "singles", database: "d", sqls: [{ text: sql, values: [] }] });

/** An engine whose jobs end when the test says so. */
function pretend() {
  const runs: { end: (answer: unknown) => void; fail: () => void; stopped: () => boolean }[] = [];
  const run = (_: unknown, { signal }: { signal: AbortSignal }) =>
    new Promise((resolve, reject) => {
      signal.addEventListener("abort", () => reject(new JobFailure("stopped")));
      runs.push({ end: resolve, fail: () => reject(new JobFailure("locked")), stopped: () => signal.aborted });
    });
  return { runs, shared: new SharedJobs({ run } as unknown as Engine) };
}

describe("jobs asked for together", () => {
  it("are worked out once for all who ask the same of the same data, and anew after a change", async () => {
    const { runs, shared } = pretend();
    const both = [1, 2].map(() => shared.run(job("a"), "before", { client: "c" }));
    const other = shared.run(job("b"), "before", { client: "c" });
    const later = shared.run(job("a"), "after", { client: "c" });
    expect(runs).toHaveLength(3);
    for (const [i, r] of runs.entries()) r.end([[i]]);
    expect(await Promise.all([...both, other, later])).toEqual([[[0]], [[0]], [[1]], [[2]]]);
    void shared.run(job("a"), "before", { client: "c" });
    expect(runs, "an answer given is not kept").toHaveLength(4);
  });
  it("go on while anyone waits, and stop when nobody does", async () => {
    const { runs, shared } = pretend();
    const [one, two] = [new AbortController(), new AbortController()];
    const asked = [one, two].map(({ signal }) => shared.run(job("a"), "s", { client: "c", signal }).catch((e: JobFailure) => e.code));
    one.abort();
    expect(await asked[0]).toBe("stopped");
    expect(runs[0]?.stopped()).toBe(false);
    two.abort();
    expect(await asked[1]).toBe("stopped");
    expect(runs[0]?.stopped()).toBe(true);
  });
  it("fail for all who wait", async () => {
    const { runs, shared } = pretend();
    const asked = [1, 2].map(() => shared.run(job("a"), "s", { client: "c" }));
    runs[0]?.fail();
    await expect(Promise.all(asked)).rejects.toThrow(/locked/);
  });
});
