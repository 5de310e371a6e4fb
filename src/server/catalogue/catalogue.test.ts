import { cpSync, readFileSync, writeFileSync } from "node:fs";
import { join, resolve } from "node:path";
import { sql } from "drizzle-orm";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { emptyPivot } from "@/core/pivot/empty";
import type { Plan } from "@/core/query/plan";
import { firstReport } from "@/core/report/plan";
import { temporaryFolder } from "../../../test/support/ledger";
import { Catalogue } from "./catalogue";
import { madeWith } from "./madeFrom";
import { objects } from "./tables";

const planOfNothing = { columns: [] } as unknown as Plan;

let place: ReturnType<typeof temporaryFolder>;
let clock: Date;
const opened: Catalogue[] = [];
const open = () => {
  const catalogue = new Catalogue(place.folder, resolve("src/server/catalogue/migrations"), () => clock);
  opened.push(catalogue);
  return catalogue;
};
beforeEach(() => {
  place = temporaryFolder();
  clock = new Date("2026-11-23T07:00:00Z");
});
afterEach(() => {
  for (const catalogue of opened.splice(0)) catalogue.close();
  place.remove();
});

describe("saved objects", () => {
  it("are the same instance as long as they are kept as they were, also saved twice within a moment", () => {
    const catalogue = open();
    catalogue.create("query", "A", { a: 1 }, "a");
    catalogue.create("query", "B", { b: 1 }, "b");
    const [a, b] = catalogue.list("query");
    catalogue.save("a", { spec: { a: 2 } }, 1);
    const [next, other] = catalogue.list("query");
    expect([next?.spec, next === a, other === b]).toEqual([{ a: 2 }, false, true]);
    expect(catalogue.get("b")).toBe(other);
    catalogue.save("b", { name: "C" }, 1);
    expect(catalogue.get("b")?.name).toBe("C");
    expect(catalogue.list("query").map((o) => o.name)).toEqual(["A", "C"]);
  });
  it("lie in folders and have notes, apart from their versions; both stay when a deleted one comes back", () => {
    const catalogue = open();
    catalogue.create("query", "A", {}, "a");
    catalogue.file("a", { folder: "Month end" });
    catalogue.file("a", { note: "For the auditors" });
    expect(catalogue.filings().get("a")).toEqual({ folder: "Month end", note: "For the auditors" });
    expect(catalogue.get("a")?.revision).toBe(1);
    catalogue.remove("a");
    const [deleted] = catalogue.inBin();
    if (deleted) catalogue.restore(deleted);
    expect(catalogue.filings().get("a")?.folder).toBe("Month end");
    catalogue.remove("a");
    clock = new Date("2027-01-23T07:00:00Z");
    catalogue.forgetOld();
    expect(catalogue.filings().size).toBe(0);
  });
  it("are kept over a restart, by kind and name", () => {
    open().create("query", "B", { a: 1 }, "b");
    open().create("query", "A", { a: 2 }, "a");
    open().create("report", "C", {}, "c");
    expect(
      open()
        .list("query")
        .map((o) => [o.name, o.spec, o.revision]),
    ).toEqual([
      ["A", { a: 2 }, 1],
      ["B", { a: 1 }, 1],
    ]);
  });
  it("are listed as they are now: after every change of one's own, of another process, and after one that was undone", () => {
    const [one, other] = [open(), open()];
    const names = (of: Catalogue) => of.list().map((o) => `${o.name} ${o.revision}${o.owner ? ` of ${o.owner}` : ""}`);
    expect(names(one)).toEqual([]);
    one.create("query", "B", {}, "b");
    expect([names(one), names(other)]).toEqual([["B 1"], ["B 1"]]);
    other.create("query", "A", {}, "a");
    expect(names(one)).toEqual(["A 1", "B 1"]);
    one.save("b", { name: "Z" }, 1);
    expect([names(one), names(other)]).toEqual([
      ["A 1", "Z 2"],
      ["A 1", "Z 2"],
    ]);
    one.give("a", "ada");
    expect(names(one)).toEqual(["A 1 of ada", "Z 2"]);
    expect(() =>
      one.db.transaction(() => {
        one.create("query", "C", {}, "c");
        expect(names(one)).toEqual(["A 1 of ada", "C 1", "Z 2"]);
        throw new Error("undone");
      }),
    ).toThrow("undone");
    expect(names(one)).toEqual(["A 1 of ada", "Z 2"]);
    one.remove("a");
    expect([names(one), names(other)]).toEqual([["Z 2"], ["Z 2"]]);
    // What one reader does with its list is nothing to the next.
    one.list().pop();
    expect(names(one)).toEqual(["Z 2"]);
  });
  it("are there once they are answered as saved: a commit that fails is an error, and nothing is kept", () => {
    const catalogue = open();
    const kept = catalogue.create("query", "Q", { v: 1 }, "q");
    // What fails only at the commit, as a full disk does: a row that leads nowhere, looked at when all is written.
    for (const statement of [
      "PRAGMA foreign_keys = ON",
      "CREATE TABLE far (id TEXT PRIMARY KEY)",
      "CREATE TABLE near (id TEXT REFERENCES far (id) DEFERRABLE INITIALLY DEFERRED)",
      ...["INSERT ON object", "UPDATE ON object", "INSERT ON run", "INSERT ON lease"].map(
        (on, i) => `CREATE TRIGGER t${i} AFTER ${on} BEGIN INSERT INTO near VALUES ('nowhere'); END`,
      ),
    ])
      catalogue.db.run(sql.raw(statement));
    expect(() => catalogue.create("query", "R", {}, "r")).toThrow(/FOREIGN KEY/);
    expect(() => catalogue.save("q", { spec: { v: 2 } }, kept.revision)).toThrow(/FOREIGN KEY/);
    expect(() => catalogue.runs.claim({ schedule: "s", dueAt: clock, late: false, manual: false })).toThrow(/FOREIGN KEY/);
    expect(() => catalogue.leases.take("l", "me", 1000)).toThrow(/FOREIGN KEY/);
    expect([catalogue.list().map((o) => [o.id, o.spec]), catalogue.runs.unfinished(), catalogue.leases.holds("l", 1)]).toEqual([[["q", { v: 1 }]], [], false]);
  });
  it("are never overwritten unnoticed: an older page is told", () => {
    const catalogue = open();
    const { revision } = catalogue.create("query", "Q", { v: 1 }, "q");
    expect(catalogue.save("q", { spec: { v: 2 } }, revision)?.revision).toBe(2);
    expect(() => catalogue.save("q", { spec: { v: 3 } }, revision)).toThrow("saved elsewhere");
    expect(catalogue.get("q")?.spec).toEqual({ v: 2 });
    catalogue.remove("q");
    expect(catalogue.save("q", { name: "gone" }, 2)).toBeUndefined();
  });
});

describe("the lease", () => {
  it("is held by one at a time, renewed by its holder, and passes on when its time is up, with a new epoch", () => {
    const [one, two] = [open(), open()];
    expect(one.leases.take("l", "one", 1000)).toBe(1);
    expect(two.leases.take("l", "two", 1000)).toBeNull();
    clock = new Date(clock.getTime() + 900);
    expect(one.leases.take("l", "one", 1000)).toBe(1);
    clock = new Date(clock.getTime() + 1001);
    expect(two.leases.take("l", "two", 1000)).toBe(2);
    expect([one.leases.holds("l", 1), two.leases.holds("l", 2)]).toEqual([false, true]);
    two.leases.release("l", "two");
    expect(one.leases.take("l", "one", 1000)).toBe(1);
  });
});

describe("runs", () => {
  it("are claimed once for each due time, by whichever process is first", () => {
    const [one, two] = [open(), open()];
    const due = { schedule: "s", dueAt: clock, late: false, manual: false };
    expect(one.runs.claim(due)?.state).toBe("running");
    expect(two.runs.claim(due)).toBeUndefined();
    expect(two.runs.lastDue("s")).toEqual(clock);
    expect(one.runs.claim({ ...due, dueAt: new Date(0), manual: true })?.state).toBe("queued");
    expect(two.runs.unfinished()).toHaveLength(2);
    // One made by hand, later on, is no time that was due.
    one.runs.claim({ ...due, dueAt: new Date(clock.getTime() + 60_000), manual: true });
    expect(two.runs.lastDue("s")).toEqual(clock);
  });
});

describe("what is made from an object", () => {
  it("is found to any depth, each once, and not the object itself", () => {
    const query = { id: "q", kind: "query" as const, spec: {} };
    const report = { id: "r", kind: "report" as const, spec: { ...firstReport("q", "R", planOfNothing), closing: [{ kind: "pivot", id: "p" }] } };
    const pivot = { id: "p", kind: "pivot" as const, spec: emptyPivot("q") };
    const other = { id: "o", kind: "pivot" as const, spec: emptyPivot("x") };
    expect(madeWith("q", [query, report, pivot, other]).map((o) => o.id)).toEqual(expect.arrayContaining(["r", "p"]));
    expect(madeWith("q", [query, report, pivot, other])).toHaveLength(2);
    expect(madeWith("o", [query, report, pivot, other])).toEqual([]);
  });
});

describe("a catalogue of an older version", () => {
  it("is brought up when it opens, with all that was saved", () => {
    const older = join(place.folder, "migrations");
    cpSync("src/server/catalogue/migrations", older, { recursive: true });
    const journal = JSON.parse(readFileSync(join(older, "meta/_journal.json"), "utf8")) as { entries: { tag: string }[] };
    expect(journal.entries.length).toBeGreaterThan(6);
    const known = journal.entries.slice(0, 6);
    writeFileSync(join(older, "meta/_journal.json"), JSON.stringify({ ...journal, entries: known }));
    const folder = join(place.folder, "old");
    const before = new Catalogue(folder, older);
    const at = new Date("2026-11-01T08:00:00Z");
    before.db
      .insert(objects)
      .values({ id: "kept", kind: "query", name: "Kept", spec: { v: 1 }, createdAt: at, updatedAt: at })
      .run();
    expect(() => before.visit("", "kept")).toThrow();
    before.close();
    const after = new Catalogue(folder, "src/server/catalogue/migrations");
    expect(after.get("kept")).toMatchObject({ name: "Kept", spec: { v: 1 }, revision: 1 });
    after.visit("", "kept");
    expect(after.visitsOf("", 5)).toMatchObject([{ object: "kept", pinned: false }]);
    // Its first save keeps what it was before there was a history.
    after.save("kept", { spec: { v: 2 } }, 1, "ada");
    expect(after.versionsOf("kept").map(({ revision, spec, person }) => [revision, spec, person])).toEqual([
      [2, { v: 2 }, "ada"],
      [1, { v: 1 }, null],
    ]);
    expect(after.versionsOf("kept")[1]?.at.toISOString()).toBe("2026-11-01T08:00:00.000Z");
    after.close();
  });
});

describe("what is kept of saved objects", () => {
  const day = 24 * 3_600_000;
  const later = (ms: number) => {
    clock = new Date(clock.getTime() + ms);
  };

  it("is each of their versions, with who saved it, none of a save that was refused", () => {
    const catalogue = open();
    catalogue.create("query", "A", { v: 1 }, "a", "ada");
    later(day);
    catalogue.save("a", { spec: { v: 2 } }, 1, "bea");
    expect(() => catalogue.save("a", { spec: { v: 3 } }, 1, "ada")).toThrow("changed and saved elsewhere");
    catalogue.save("a", { name: "B" }, 2, "ada");
    expect(catalogue.versionsOf("a").map(({ name, spec, person }) => [name, spec, person])).toEqual([
      ["B", { v: 2 }, "ada"],
      ["A", { v: 2 }, "bea"],
      ["A", { v: 1 }, "ada"],
    ]);
    catalogue.create("query", "", { v: 1 }, "nameless");
    expect(catalogue.versionsOf("nameless")).toEqual([]);
  });
  it("comes back from the bin under its id, with its history; for thirty days, then it is deleted for good", () => {
    const catalogue = open();
    catalogue.create("query", "A", { v: 1 }, "a", "ada");
    catalogue.save("a", { name: "B", spec: { v: 2 } }, 1, "bea");
    catalogue.create("query", "", { v: 1 }, "nameless");
    catalogue.remove("a", "bea");
    catalogue.remove("nameless");
    expect(catalogue.get("a")).toBeUndefined();
    expect(catalogue.inBin()).toMatchObject([{ id: "a", name: "B", owner: "ada", deletedBy: "bea", spec: { v: 2 } }]);
    const restored = catalogue.restore(catalogue.inBin()[0] as never);
    expect(restored).toMatchObject({ id: "a", name: "B", owner: "ada", revision: 3 });
    expect([catalogue.inBin(), catalogue.versionsOf("a").length]).toEqual([[], 3]);
    catalogue.remove("a");
    later(30 * day);
    catalogue.forgetOld();
    expect(catalogue.inBin().length).toBe(1);
    later(1);
    catalogue.forgetOld();
    expect([catalogue.inBin(), catalogue.versionsOf("a")]).toEqual([[], []]);
  });
  it("is each person's draft of a page, for sixty days, whatever process kept it; nothing is read again for it", () => {
    const catalogue = open();
    const stamp = catalogue.stamp();
    catalogue.keepDraft("ada", "unsaved query a", { v: 9 });
    catalogue.keepDraft("ada", "unsaved query a", { v: 10 });
    catalogue.keepDraft("bea", "unsaved query a", { v: 11 });
    expect(catalogue.stamp()).toBe(stamp);
    const again = open();
    expect([again.draftOf("ada", "unsaved query a")?.spec, again.draftOf("ada", "unsaved query b")]).toEqual([{ v: 10 }, undefined]);
    again.keepDraft("bea", "unsaved query a", null);
    expect(again.draftOf("bea", "unsaved query a")).toBeUndefined();
    later(60 * day + 1);
    again.forgetOld();
    expect(again.draftOf("ada", "unsaved query a")).toBeUndefined();
  });
});
