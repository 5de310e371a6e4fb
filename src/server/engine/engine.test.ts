import { existsSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Engine } from "./engine";

/*
 * The engine with a child process that does what a job's text says: "wait FILE" until the file is there, "locked FILE"
 * fails on a lock until the file is there, "die" ends the process, "name NAME" answers at once; "hold FILE" waits as well, and
 * holds others up.
 */
const CHILD = `
import { existsSync } from "node:fs";
const locked = { failure: { code: "locked", particulars: "" } };
process.on("message", async ({ text }) => {
  const [deed, what] = text.split(" ");
  if (deed === "die") process.exit(1);
  process.send({ begun: { holdsUpOthers: deed === "hold" } });
  while (["wait", "hold"].includes(deed) && !existsSync(what)) await new Promise((done) => setTimeout(done, 10));
  process.send(deed === "locked" && !existsSync(what) ? locked : { result: [[text]] });
});
process.on("disconnect", () => process.exit(0));
process.send({ ready: true });
`;

let folder: string;
let engine: Engine;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "next-ledger-engine-"));
  writeFileSync(join(folder, "child.mjs"), CHILD);
  engine = new Engine(join(folder, "child.mjs"));
});
afterEach(() => {
  engine.close();
  rmSync(folder, { recursive: true, force: true });
});

const file = (name: string) => join(folder, name);
const job = (text: string, database = "one") => ({ kind: "singles" as const, database, statements: [], text });
const run = (text: string, options: { client?: string; database?: string; signal?: AbortSignal; timeLimitMs?: number } = {}) =>
  engine.run<"singles">(job(text, options.database), { client: options.client ?? "somebody", signal: options.signal, timeLimitMs: options.timeLimitMs });

/** A job that runs until it is let go. */
function begin(name: string, client: string, database?: string) {
  const done = run(`wait ${file(name)}`, { client, ...(database ? { database } : {}) });
  return {
    done,
    letGo: () => {
      writeFileSync(file(name), "");
      return done;
    },
  };
}

describe("jobs of the ledger's own that meet on a locked database", () => {
  it("are begun again until the other is done, and nobody is told of a lock", async () => {
    const other = begin("other", "a");
    const met = run(`locked ${file("unlocked")}`, { client: "b" });
    await new Promise((done) => setTimeout(done, 600));
    writeFileSync(file("unlocked"), "");
    expect(await met).toEqual([[`locked ${file("unlocked")}`]]);
    await other.letGo();
  });

  it("are begun again though the clock stands a moment behind the timer", async () => {
    const other = begin("other", "a");
    const clock = vi.spyOn(Date, "now").mockReturnValue(Date.now());
    const putBack = vi.spyOn(engine as unknown as { postpone: () => void }, "postpone");
    const met = run(`locked ${file("unlocked")}`, { client: "b" });
    await vi.waitFor(() => expect(putBack).toHaveBeenCalled(), 20_000);
    writeFileSync(file("unlocked"), "");
    const late = new Promise((_, reject) => setTimeout(() => reject(new Error("never begun again")), 3_000));
    await expect(Promise.race([met, late])).resolves.toEqual([[`locked ${file("unlocked")}`]]);
    clock.mockRestore();
    await other.letGo();
  });

  it("are told what keeps them, once their time is over", async () => {
    const other = begin("other", "a");
    await expect(run(`locked ${file("never")}`, { client: "b", timeLimitMs: 400 })).rejects.toThrow("Another change to this database");
    await other.letGo();
  });

  it("can be stopped while they wait to be begun again", async () => {
    const other = begin("other", "a");
    const stop = new AbortController();
    const met = run(`locked ${file("never")}`, { client: "b", signal: stop.signal });
    setTimeout(() => stop.abort(), 150);
    await expect(met).rejects.toThrow("Stopped.");
    await other.letGo();
  });

  it("tell of another program where none of the ledger's own is at work on that database", async () => {
    const elsewhere = begin("elsewhere", "a", "another");
    await expect(run(`locked ${file("never")}`, { client: "b" })).rejects.toThrow("Another program has locked the database");
    await elsewhere.letGo();
  });
});

describe("jobs of several people", () => {
  it("go by turns: who has fewer running is next, though they asked later", async () => {
    const order: string[] = [];
    const first = ["a1", "a2", "a3"].map((name) => begin(name, "a"));
    const own = run("name a4", { client: "a" }).then(() => order.push("a4"));
    await run("name b1", { client: "b" }).then(() => order.push("b1"));
    expect(order).toEqual(["b1"]);
    await Promise.all([...first.map((f) => f.letGo()), own]);
    expect(order).toEqual(["b1", "a4"]);
  });

  it("leave a process for the next person, however many hold some", async () => {
    const heavy = ["a", "a", "b", "b", "c", "c"].map((client, i) => begin(`h${i}`, client));
    expect(await run("name d", { client: "d" })).toEqual([["name d"]]);
    await Promise.all(heavy.map((h) => h.letGo()));
  });
});

describe("a job", () => {
  it("that runs past its time is ended, and its process replaced", async () => {
    await expect(run(`wait ${file("never")}`, { timeLimitMs: 200 })).rejects.toThrow("took longer than the time limit");
    expect(await run("name next")).toEqual([["name next"]]);
  });

  it("that is stopped ends at once, in the queue or at work", async () => {
    const stop = new AbortController();
    const jobs = ["w1", "w2", "w3"].map((name) => run(`wait ${file(name)}`, { signal: stop.signal }));
    setTimeout(() => stop.abort(), 300);
    for (const done of await Promise.allSettled(jobs)) expect(done).toMatchObject({ status: "rejected", reason: { code: "stopped" } });
    await expect(run("name late", { signal: stop.signal })).rejects.toThrow("Stopped.");
    expect(await run("name next")).toEqual([["name next"]]);
  });

  it("whose process dies says so, and the next has another", async () => {
    await expect(run("die")).rejects.toThrow("stopped before it was done");
    expect(await run("name next")).toEqual([["name next"]]);
  });

  it("in the queue is found by the next free process, one after the other", async () => {
    const texts = Array.from({ length: 20 }, (_, i) => `name n${i}`);
    expect(await Promise.all(texts.map((text) => run(text)))).toEqual(texts.map((text) => [[text]]));
  });

  it("that runs long gets a lower share, and its process goes with it", async () => {
    const { workers } = engine as unknown as { workers: { slowed: boolean; child: { pid: number } }[] };
    const heavy = begin("heavy", "a");
    await vi.waitFor(() => expect(workers.some((w) => w.slowed)).toBe(true), 4_000);
    const slowed = workers.find((w) => w.slowed)?.child.pid;
    await heavy.letGo();
    expect(workers.map((w) => w.child.pid)).not.toContain(slowed);
    expect(workers.length).toBeGreaterThanOrEqual(3);
    expect(existsSync(file("heavy"))).toBe(true);
  });

  it("and that others wait for keeps its share: reading the shape, and whatever holds the database for writing", async () => {
    const { workers } = engine as unknown as { workers: { slowed: boolean }[] };
    const holding = run(`hold ${file("shape")}`, { client: "a" });
    await new Promise((done) => setTimeout(done, 2_600));
    expect(workers.some((w) => w.slowed)).toBe(false);
    writeFileSync(file("shape"), "");
    await holding;
  });
});
