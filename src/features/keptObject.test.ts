import { describe, expect, it } from "vitest";
import { KeptObject, type SavedObject, unsavedSpec } from "./keptObject";

/** A server that answers when it is told to, and refuses what is not upon its newest revision. */
function stage(id: string | null = "q1") {
  const sent: object[] = [];
  const waiting: (() => void)[] = [];
  const shown: SavedObject<string, string | null>[] = [];
  let revision = id === null ? 0 : 4;
  const send = async (at: string | null, body: { revision?: number; name?: string; spec?: string }) => {
    sent.push({ at, ...body });
    await new Promise<void>((done) => waiting.push(done));
    if (at !== null && body.revision !== revision) throw new Error("Somebody else changed it.");
    revision++;
    return { id: at ?? "made", revision };
  };
  const kept = new KeptObject<string, string | null>({ id, name: "Old", spec: "a", revision }, send, (now) => shown.push(now));
  const answer = async () => {
    while (waiting.length === 0) await new Promise((done) => setTimeout(done));
    waiting.shift()?.();
  };
  return { kept, sent, answer, now: () => shown.at(-1), elsewhere: () => revision++ };
}

describe("an object's changes on their way to the server", () => {
  it("go one after another, each upon the revision the one before it left", async () => {
    const { kept, sent, answer, now } = stage();
    const all = Promise.all([kept.rename("New"), kept.save("b"), kept.save("c")]);
    expect(now()?.name).toBe("New");
    for (const _ of [1, 2, 3]) await answer();
    await all;
    expect(sent).toEqual([
      { at: "q1", name: "New", revision: 4 },
      { at: "q1", spec: "b", revision: 5 },
      { at: "q1", spec: "c", revision: 6 },
    ]);
    expect(now()).toEqual({ id: "q1", name: "New", spec: "c", revision: 7 });
  });
  it("leave the old name and what was kept where the server refuses, and the next goes all the same", async () => {
    const { kept, answer, now, elsewhere } = stage();
    elsewhere();
    const refused = kept.rename("New");
    void answer();
    await expect(refused).rejects.toThrow("Somebody else");
    expect(now()).toEqual({ id: "q1", name: "Old", spec: "a", revision: 4 });
    const again = kept.save("b");
    void answer();
    await expect(again).rejects.toThrow("Somebody else");
    expect(now()?.spec).toBe("a");
  });
  it("keep a later name where an earlier one is refused", async () => {
    const { kept, answer, now, elsewhere } = stage();
    elsewhere();
    const [first, second] = [kept.rename("First"), kept.rename("Second")];
    void answer().then(answer);
    await expect(first).rejects.toThrow();
    expect(now()?.name).toBe("Second");
    await expect(second).rejects.toThrow();
    expect(now()?.name).toBe("Old");
  });
  it("name an object that is not saved yet here alone, and on the server while it is being saved", async () => {
    const { kept, sent, answer, now } = stage(null);
    await kept.rename("Mine");
    expect(sent).toEqual([]);
    const saved = kept.save("b");
    while (sent.length === 0) await new Promise((done) => setTimeout(done));
    const renamed = kept.rename("Ours");
    void answer().then(answer);
    await Promise.all([saved, renamed]);
    expect(sent).toEqual([
      { at: null, name: "Mine", spec: "b" },
      { at: "made", name: "Ours", revision: 1 },
    ]);
    expect(now()).toEqual({ id: "made", name: "Ours", spec: "b", revision: 2 });
  });
});

describe("what was left unsaved", () => {
  const saved = { version: 1, columns: ["a"] };
  const left = { version: 1, columns: ["a", "b"] };
  it("comes back as it was left", () => expect(unsavedSpec(JSON.stringify(left), saved)).toEqual(left));
  it("is nothing where nothing was left, or only what is saved", () => {
    expect(unsavedSpec(null, saved)).toBeNull();
    expect(unsavedSpec(JSON.stringify(saved), saved)).toBeNull();
  });
  it("does not come back into another version of the program, nor where it cannot be read", () => {
    expect(unsavedSpec(JSON.stringify({ ...left, version: 0 }), saved)).toBeNull();
    for (const kept of ["", "{", "null", "[]", '"text"']) expect(unsavedSpec(kept, saved)).toBeNull();
  });
});
