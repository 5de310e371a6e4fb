import { afterEach, describe, expect, it, vi } from "vitest";
import { AskError, ask, askFile, askWork, isAbort, sentenceOf } from "./ask";

const answers = (make: (path: string, init: RequestInit) => Response | Promise<Response>) => {
  const sent: { path: string; init: RequestInit }[] = [];
  vi.stubGlobal("fetch", async (path: string, init: RequestInit = {}) => {
    sent.push({ path, init });
    return make(path, init);
  });
  return sent;
};
afterEach(() => vi.unstubAllGlobals());
const refused = (status: number, sentence: string, code = "problem") => Response.json({ error: { sentence, code, problems: [] } }, { status });
const said = (work: Promise<unknown>) => work.then(() => "no failure", sentenceOf);

describe("asking the server", () => {
  it("is a GET without a body and a POST with one, told whose it is", async () => {
    const sent = answers(() => Response.json({ found: 3 }));
    expect(await ask("/api/x")).toEqual({ found: 3 });
    await ask("/api/x", { a: 1 });
    await ask("/api/x", { a: 1 }, { method: "PATCH" });
    expect(sent.map(({ init }) => [init.method, init.body])).toEqual([
      ["GET", undefined],
      ["POST", '{"a":1}'],
      ["PATCH", '{"a":1}'],
    ]);
    expect(new Headers(sent[0]?.init.headers).get("x-client")).toMatch(/^\w+$/);
  });
  it("fails with the server's own sentence, with ours where it has none or does not respond", async () => {
    answers(() => refused(422, "There is no table “x”."));
    expect(await said(ask("/api/x"))).toBe("There is no table “x”.");
    answers(() => new Response("<html>", { status: 502 }));
    expect(await said(ask("/api/x"))).toBe("The server responded with 502.");
    answers(() => Promise.reject(new TypeError("fetch failed")));
    expect(await said(ask("/api/x"))).toContain("does not respond");
  });
  it("knows what was stopped on purpose from what failed", async () => {
    answers(() => Promise.reject(new DOMException("stopped", "AbortError")));
    await expect(ask("/api/x")).rejects.toSatisfy(isAbort);
    expect(isAbort(new AskError({ sentence: "Stopped.", code: "stopped", problems: [] }))).toBe(true);
    expect(isAbort(new AskError({ sentence: "No.", code: "sql", problems: [] }))).toBe(false);
    expect(isAbort(new Error("x"))).toBe(false);
  });
});

describe("asking for long work", () => {
  const lines = (...parts: string[]) =>
    answers(
      () =>
        new Response(
          new ReadableStream<Uint8Array>({
            start(controller) {
              for (const part of parts) controller.enqueue(new TextEncoder().encode(part));
              controller.close();
            },
          }),
        ),
    );
  it("tells each step, however the lines are cut, and gives what it came to", async () => {
    lines('{"progress":0.1}\n{"prog', 'ress":0.6}\n{"result":{"rows":5}', "}\n");
    const told: number[] = [];
    expect(await askWork("/api/x", {}, (share) => told.push(share))).toEqual({ rows: 5 });
    expect(told).toEqual([0.1, 0.6]);
  });
  it("fails with what the server says in the middle, and where it ends without an end", async () => {
    lines('{"progress":0.1}\n', `${JSON.stringify({ error: { sentence: "The disk is full.", code: "diskFull", problems: [] } })}\n`);
    expect(await said(askWork("/api/x", {}, () => {}))).toBe("The disk is full.");
    lines('{"progress":0.1}\n{"result"');
    expect(await said(askWork("/api/x", {}, () => {}))).toContain("stopped before it was done");
  });
});

describe("sending a file", () => {
  it("tells its name, its length and its digest beside it", async () => {
    const sent = answers(() => Response.json({ id: "f1" }));
    expect(await askFile("/api/imports", new File(["abc"], "ä b.csv"))).toEqual({ id: "f1" });
    const told = new URLSearchParams(sent[0]?.path.split("?")[1]);
    // SHA-256 of "abc" (FIPS 180-4, the standard's first example)
    expect(Object.fromEntries(told)).toEqual({ name: "ä b.csv", bytes: "3", sha256: "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad" });
    expect(sent[0]?.init.method).toBe("POST");
  });
  it("fails with the server's sentence, and with ours where the way is cut", async () => {
    answers(() => refused(400, "The file upload failed whole."));
    expect(await said(askFile("/api/imports", new File(["a"], "a")))).toBe("The file upload failed whole.");
    answers(() => Promise.reject(new TypeError("reset")));
    expect(await said(askFile("/api/imports", new File(["a"], "a")))).toContain("upload failed");
  });
});
