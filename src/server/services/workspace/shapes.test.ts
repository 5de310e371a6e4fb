import { expect, it } from "vitest";
import type { Schema } from "@/core/schema/schema";
import { Shapes } from "./shapes";

/* What is known of a database's shape while looks at its values come and go, without a database. */

const NOTHING_TOLD = { settings: [], links: [] };
const shapeOf = (type: "whole" | "text", rows: number, sampled: boolean): Schema => ({
  tables: [
    {
      name: "t",
      label: "things",
      columns: [{ name: "n", label: "n", type: { kind: type }, storage: "plain", nullable: true, misfits: 0, ...(sampled ? { sampled } : {}) }],
      key: [],
      rows,
      ...(sampled ? { reckoned: true } : {}),
    },
  ],
  links: [],
  structure: "one",
});

/** Shapes of a database whose looks end when they are told to; `looks` are those that go on, `most` how many values they look at. */
function watched() {
  const looks: { most: number | undefined; onShare: (share: number) => void; end: (schema: Schema) => void; fail: (why: Error) => void }[] = [];
  const wholes: Schema[] = [];
  const at = { data: "1" };
  const shapes = new Shapes(
    { stamp: async () => ({ data: at.data, shape: at.data }), close() {} },
    null,
    (_, most, onShare) => new Promise((end, fail) => looks.push({ most, onShare, end, fail })),
    (schema) => wholes.push(schema),
  );
  const schemaNow = (early: boolean) => shapes.now(NOTHING_TOLD, early).then(({ schema }) => schema);
  return { shapes, looks, wholes, at, schemaNow };
}

const settle = () => new Promise<void>((done) => setImmediate(done));
const isOpen = async (promise: Promise<unknown>) => (await Promise.race([promise.then(() => "over"), settle().then(() => "open")])) === "open";

it("pages have the types of a sample at once; what writes waits for all values; what was found otherwise is told", async () => {
  const { shapes, looks, wholes, schemaNow } = watched();
  const early = schemaNow(true);
  const waiting = schemaNow(false);
  await settle();
  expect(looks.map((l) => l.most)).toEqual([2_000_000]);
  expect(shapes.looking.share).toBeNull();
  const sampled = shapeOf("whole", 100, true);
  looks[0]?.end(sampled);
  expect(await early).toBe(sampled);
  expect(await shapes.now(NOTHING_TOLD, true)).toMatchObject({ isFirst: true });
  await settle();
  expect(looks.map((l) => l.most)).toEqual([2_000_000, undefined]);
  looks[1]?.onShare(0.4);
  expect(shapes.looking).toEqual({ share: 0.4, retyped: [] });
  expect(await isOpen(waiting)).toBe(true);
  expect(wholes).toEqual([]);
  const whole = shapeOf("text", 99, false);
  looks[1]?.end(whole);
  expect(await waiting).toBe(whole);
  expect(await schemaNow(true)).toBe(whole);
  expect(await shapes.now(NOTHING_TOLD, true)).toMatchObject({ isFirst: false });
  expect(shapes.looking).toEqual({ share: null, retyped: [{ table: "things", column: "n", from: { kind: "whole" }, to: { kind: "text" } }] });
  expect(wholes).toEqual([whole]);
  expect(looks.length).toBe(2);
});

it("a small database is looked at once", async () => {
  const { shapes, looks, wholes, at, schemaNow } = watched();
  const early = schemaNow(true);
  const waiting = schemaNow(false);
  await settle();
  expect(shapes.looking.share).toBeNull();
  looks[0]?.end(shapeOf("whole", 3, false));
  expect(await early).toEqual(await waiting);
  await schemaNow(true);
  expect([looks.length, wholes.length]).toEqual([1, 1]);
  // Nor is it said that types are from a sample while it is looked at again.
  at.data = "2";
  void schemaNow(true);
  await settle();
  expect([looks.length, shapes.looking.share]).toEqual([2, null]);
});

it("after a change by others pages keep the types that were found, and the next look at all values is not begun while nobody waits", async () => {
  const { looks, at, schemaNow } = watched();
  void schemaNow(false);
  await settle();
  looks[0]?.end(shapeOf("whole", 100, true));
  await settle();
  await new Promise((done) => setTimeout(done, 30));
  looks[1]?.end(shapeOf("text", 99, false));
  await settle();
  at.data = "2";
  const early = schemaNow(true);
  await settle();
  looks[2]?.end(shapeOf("whole", 101, true));
  expect((await early).tables[0]).toMatchObject({ rows: 101, columns: [{ type: { kind: "text" }, sampled: true }] });
  await settle();
  expect(looks.length).toBe(3);
  const waiting = schemaNow(false);
  await settle();
  expect(looks.length).toBe(4);
  looks[3]?.end(shapeOf("text", 100, false));
  expect((await waiting).tables[0]?.rows).toBe(100);
});

it("whoever waits while the database changes on gets the look at its last state; only one look at all values goes on", async () => {
  const { looks, at, schemaNow } = watched();
  const first = schemaNow(false);
  await settle();
  looks[0]?.end(shapeOf("whole", 1, true));
  await settle();
  at.data = "2";
  const second = schemaNow(false);
  await settle();
  at.data = "3";
  const third = schemaNow(true);
  await settle();
  // Looks at samples: of the second and of the third state; one at all values, of the first.
  expect(looks.map((l) => l.most)).toEqual([2_000_000, undefined, 2_000_000, 2_000_000]);
  looks[2]?.end(shapeOf("whole", 2, true));
  looks[3]?.end(shapeOf("whole", 3, true));
  expect((await third).tables[0]?.rows).toBe(3);
  await settle();
  expect(looks.length).toBe(4);
  looks[1]?.end(shapeOf("whole", 1, false));
  expect((await first).tables[0]?.rows).toBe(1);
  await settle();
  expect(looks.length).toBe(5);
  looks[4]?.end(shapeOf("whole", 4, false));
  expect((await second).tables[0]?.rows).toBe(4);
  // That look was at the last state: there is no other.
  await new Promise((done) => setTimeout(done, 50));
  expect((await schemaNow(true)).tables[0]?.rows).toBe(4);
  expect(looks.length).toBe(5);
});

it("a look that fails is told to who waits, and is made again for the next", async () => {
  const { looks, schemaNow } = watched();
  const waiting = schemaNow(false);
  await settle();
  looks[0]?.end(shapeOf("whole", 1, true));
  await settle();
  looks[1]?.fail(new Error("gone"));
  await expect(waiting).rejects.toThrow("gone");
  const next = schemaNow(false);
  await settle();
  looks[2]?.end(shapeOf("whole", 1, false));
  expect((await next).tables[0]?.rows).toBe(1);
});

it("an edit of the ledger's own is taken over only from a shape that is whole", async () => {
  const { shapes, looks, at, schemaNow } = watched();
  const edited = { table: "t", rows: 1, columns: null };
  const early = schemaNow(true);
  await settle();
  looks[0]?.end(shapeOf("whole", 10, true));
  await early;
  at.data = "2";
  await shapes.editDone(edited, { before: "1", after: "2" });
  void schemaNow(true);
  await settle();
  expect(looks.filter((l) => l.most).length).toBe(2);
  looks.filter((l) => l.most)[1]?.end(shapeOf("whole", 11, false));
  await schemaNow(false);
  at.data = "3";
  await shapes.editDone(edited, { before: "2", after: "3" });
  expect((await schemaNow(false)).tables[0]?.rows).toBe(12);
  expect(looks.filter((l) => l.most).length).toBe(2);
});
