import { join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { emptyPivot } from "@/core/pivot/empty";
import { emptyQuery } from "@/core/query/empty";
import { refuseBreaking } from "@/server/services/objects/breaks";
import { definitionsFile, definitionsSchema, looseSchema, planDefinitions, takeDefinitions } from "@/server/services/objects/definitions";
import type { Workspace } from "@/server/services/workspace/workspace";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";

/* Saved objects as a file: out, into another ledger, out again: the same bytes; what is missing is said before anything is taken. */

const place = temporaryFolder();
const open = (name: string, script: string): Workspace => openLedger(join(place.folder, name), makeDatabase(join(place.folder, `${name}.sqlite`), script));
const here = open("here", "CREATE TABLE crate (id INTEGER PRIMARY KEY, mark TEXT); INSERT INTO crate VALUES (1, 'a');");
const there = open("there", "CREATE TABLE crate (id INTEGER PRIMARY KEY, mark TEXT);");
const bare = open("bare", "CREATE TABLE other (id INTEGER PRIMARY KEY);");
afterAll(() => {
  for (const ws of [here, there, bare]) ws.close();
  place.remove();
});

const query = { ...emptyQuery("crate"), columns: [{ id: "m", value: { kind: "field" as const, join: "", column: "mark" } }] };
here.objects.create("query", "Crates", query, "crates");
here.objects.create(
  "query",
  "Crates of crates",
  { ...query, source: "query crates", columns: [{ id: "n", value: { kind: "field", join: "", column: "m" } }] },
  "over",
);
here.objects.create("pivot", "By mark", emptyPivot("over"), "pivot");
const parsed = (text: string) => looseSchema.parse(JSON.parse(text)).objects;

describe("a file of definitions", () => {
  it("has what is asked for with all it is made from, by the published shape, in one order", () => {
    const file = definitionsFile(here, ["pivot"]);
    expect(parsed(file).map((o) => o.id)).toEqual(["crates", "over", "pivot"]);
    expect(definitionsSchema.safeParse(JSON.parse(file)).success).toBe(true);
    expect(definitionsFile(here, [])).toBe(file);
  });
  it("goes out, into another ledger, and out again: the same bytes; taken twice it changes nothing", async () => {
    const file = definitionsFile(here, []);
    expect((await planDefinitions(there, parsed(file))).map((o) => [o.id, o.state, o.missing])).toEqual([
      ["crates", "new", []],
      ["over", "new", []],
      ["pivot", "new", []],
    ]);
    expect(takeDefinitions(there, parsed(file))).toBe(3);
    expect(definitionsFile(there, [])).toBe(file);
    expect((await planDefinitions(there, parsed(file))).map((o) => o.state)).toEqual(["same", "same", "same"]);
    expect(takeDefinitions(there, parsed(file))).toBe(0);
  });
  it("saves what changed as a next version, and says what is missing where it goes", async () => {
    const renamed = parsed(definitionsFile(here, [])).map((o) => (o.id === "crates" ? { ...o, name: "All crates" } : o));
    expect((await planDefinitions(there, renamed)).map((o) => o.state)).toEqual(["changed", "same", "same"]);
    expect(takeDefinitions(there, renamed)).toBe(1);
    expect(there.catalogue.versionsOf("crates").map((v) => v.name)).toEqual(["All crates", "Crates"]);
    const [crates, , pivot] = await planDefinitions(bare, renamed);
    expect([crates?.missing, pivot?.missing]).toEqual([["The database has no table “crate”. Choose another table, or restore it."], []]);
    const [alone] = await planDefinitions(bare, renamed.slice(2));
    expect(alone?.missing[0]).toMatch(/made from is neither here nor in the file/);
  });
  it("takes nothing where one of its objects cannot be read, or has another's id", async () => {
    const file = parsed(definitionsFile(here, []));
    const odd = [...file.slice(0, 1), { ...(file[1] as never as (typeof file)[number]), spec: { version: 99 } }];
    expect((await planDefinitions(bare, odd)).map((o) => o.state)).toEqual(["new", "unreadable"]);
    expect(() => takeDefinitions(bare, odd)).toThrow();
    expect(bare.objects.list()).toEqual([]);
    expect(() => takeDefinitions(there, [{ ...(file[2] as (typeof file)[number]), id: "crates" }])).toThrow("has the id of the query “All crates”");
  });
});

describe("a change of a query", () => {
  const change = (spec: object) => refuseBreaking(here, here.objects.open("crates") as never, spec);
  it("that another reads is refused with what it would miss; one that nothing misses is not", async () => {
    const id = { id: "i", value: { kind: "field" as const, join: "", column: "id" } };
    await expect(change({ ...query, columns: [id] })).rejects.toThrow(/The query “Crates of crates” would stop working: The table “Crates” has no column “m”/);
    // What cannot be worked out itself breaks what reads it, with what that is made into.
    await expect(change({ ...query, columns: [] })).rejects.toThrow(
      /The query “Crates of crates” .* No columns are shown.* The pivot “By mark” would stop working/,
    );
    await expect(change({ ...query, columns: [...query.columns, id] })).resolves.toBeUndefined();
  });
  it("is not refused for what was broken before it", async () => {
    here.catalogue.create(
      "query",
      "Lost",
      { ...query, source: "query crates", columns: [{ id: "x", value: { kind: "field", join: "", column: "gone" } }] },
      "lost",
    );
    await expect(change(query)).resolves.toBeUndefined();
    await expect(change({ ...query, columns: [] })).rejects.toThrow("Crates of crates");
  });
});
