import { createHash } from "node:crypto";
import { readdirSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { DerivedFieldSpec } from "@/core/derive/spec";
import { columnsProposed } from "@/core/import/propose";
import { importSpecSchema } from "@/core/import/spec";
import { type PostingSpec, postingSpecSchema } from "@/core/posting/spec";
import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import type { LinkSpec } from "@/core/schema/linkSpec";
import { findColumn, findTable, type Table } from "@/core/schema/schema";
import * as edit from "@/core/shape/edit";
import type { ShapeSpec } from "@/core/shape/spec";
import { duplicatesOf, mergeOf, mergePreviewOf } from "@/server/services/duplicates/service";
import { importOf, keepFile, scanOf } from "@/server/services/import/service";
import { checkObject } from "@/server/services/objects/checkObject";
import { entryOf, journalOf } from "@/server/services/posting/journalService";
import { editOf, postOf, previewOf, reversalPreviewOf, reverseOf, rowHistoryOf } from "@/server/services/posting/service";
import { footingOf, rowsOf } from "@/server/services/queries/service";
import { dropOf, dropUsesOf, shapeOf, surveyOf, tableOfQuery } from "@/server/services/shape/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";

/* The data side as the server does it: what is saved is checked, what breaks is kept, who reads sees all of a posting or none. */

let place: ReturnType<typeof temporaryFolder>;
let ws: Workspace;
let file: string;
const caller = { client: "test" };
const SCRIPT = `
CREATE TABLE yard (id INTEGER PRIMARY KEY, name TEXT NOT NULL, town TEXT);
INSERT INTO yard VALUES (1, 'north', 'A'), (2, 'south', 'B'), (3, 'east', 'A');
CREATE TABLE crate (id INTEGER PRIMARY KEY, yard_id INTEGER REFERENCES yard(id), mark TEXT NOT NULL UNIQUE, day DATE, fee INTEGER_SCALED(2) NOT NULL);
INSERT INTO crate VALUES (1, 1, 'a', '2026-01-31', 1250), (2, 1, 'b', '2026-02-01', 300), (3, 2, 'c', NULL, -50);
CREATE TABLE loose (mark TEXT);
INSERT INTO loose VALUES ('x'), ('x');
CREATE TABLE town (code TEXT, people INTEGER);
INSERT INTO town VALUES ('A', 100), ('B', 20);
CREATE VIEW seen AS SELECT * FROM yard;
CREATE TABLE watched (id INTEGER PRIMARY KEY, v TEXT);
CREATE TRIGGER on_watched AFTER INSERT ON watched BEGIN INSERT INTO loose VALUES ('from a trigger'); END;
`;
beforeEach(() => {
  place = temporaryFolder();
  file = makeDatabase(join(place.folder, "b.sqlite"), SCRIPT);
  ws = openLedger(place.folder, file);
});
afterEach(() => {
  ws.close();
  place.remove();
});

const field = (column: string, join_ = "") => ({ kind: "field" as const, join: join_, column });
const formula = (table: string, text: string): DerivedFieldSpec => ({ version: 1, table, definition: { kind: "formula", text } });
const rollup = (query: Partial<QuerySpec>): DerivedFieldSpec => ({
  version: 1,
  table: "yard",
  definition: {
    kind: "rollup",
    step: { link: "crate.yard_id", toward: "a" },
    query: { ...emptyQuery("crate"), grouped: true, columns: [{ id: "f", value: field("fee"), figure: "total" }], ...query },
  },
});
const valuesOf = async (table: string, column: string, values = {}) => {
  const spec: QuerySpec = { ...emptyQuery(table), columns: [{ id: "v", value: field(column) }] };
  return (JSON.parse((await rowsOf(ws, { spec, values }, { offset: 0, rows: 100 }, caller)).toString()) as unknown[][]).map((r) => r[0]);
};
const change = (script: string) => new Database(file).exec(script).close();

describe("derived fields that are saved", () => {
  it("must have a name of their own, and lead in no circle", async () => {
    ws.catalogue.create("derived", "one", formula("crate", "fee + 1"), "one");
    ws.catalogue.create("derived", "two", formula("crate", "one * 2"), "two");
    await expect(checkObject(ws, "derived", "mark", formula("crate", "1"))).rejects.toThrow("The name “");
    await expect(checkObject(ws, "derived", "Two", formula("crate", "1"))).rejects.toThrow("The name “");
    await expect(checkObject(ws, "derived", "one", formula("crate", "two - 1"), "one")).rejects.toThrow(/in a circle: (one → two → one|two → one → two)/);
    await expect(checkObject(ws, "derived", "bad", formula("crate", "fee + mark"))).rejects.toThrow("needs a number");
    await expect(checkObject(ws, "derived", "nought", formula("crate", "fee / 0"))).resolves.toBeUndefined();
    expect(await valuesOf("crate", "two")).toEqual([2700, 800, 100]);
  });
  it("are current at once when the data changes, and empty where they divide by zero", async () => {
    ws.catalogue.create("derived", "fees", rollup({}), "fees");
    ws.catalogue.create("derived", "share", formula("yard", "fees / (id - 1)"), "share");
    expect(await valuesOf("yard", "fees")).toEqual([1550, -50, null]);
    change("INSERT INTO crate VALUES (4, 3, 'd', NULL, 999)");
    expect(await valuesOf("yard", "fees")).toEqual([1550, -50, 999]);
    expect((await valuesOf("yard", "share"))[0]).toBeNull();
  });
  it("ask for their parameters wherever they are used", async () => {
    const dated = rollup({
      conditions: [{ id: "w", left: field("day"), operator: "atLeast", values: [{ kind: "parameter", name: "since" }] }],
      parameters: [{ name: "since", type: "date" }],
    });
    ws.catalogue.create("derived", "fees since", dated, "since");
    await expect(valuesOf("yard", "since")).rejects.toThrow("The parameter “since” needs a value");
    expect(await valuesOf("yard", "since", { since: "2026-02-01" })).toEqual([300, null, null]);
  });
  it("stay when what they are made of goes, say why, and work again when it is back", async () => {
    ws.catalogue.create(
      "derived",
      "town's people",
      { version: 1, table: "yard", definition: { kind: "lookup", steps: [{ link: "byTown", toward: "b" }], column: "people" } },
      "people",
    );
    const link: LinkSpec = {
      version: 1,
      a: { table: "yard", columns: ["town"], name: "yards" },
      b: { table: "town", columns: ["code"], name: "in town" },
      operators: ["is"],
    };
    expect((await ws.schema()).broken?.map((b) => b.why)).toEqual([expect.stringContaining("The link “byTown” does not exist any more")]);
    ws.catalogue.create("link", "yards – town", link, "byTown");
    expect(await valuesOf("yard", "people")).toEqual([100, 20, 100]);
    change("ALTER TABLE town RENAME COLUMN code TO sign");
    const { broken } = await ws.schema();
    expect(broken?.map((b) => [b.kind, b.why])).toEqual([
      ["link", expect.stringContaining("no column “code”")],
      ["derived", expect.stringContaining("The link “yards – town” does not exist any more")],
    ]);
    await expect(valuesOf("yard", "people")).rejects.toThrow("does not work");
    change("ALTER TABLE town RENAME COLUMN sign TO code");
    expect(await valuesOf("yard", "people")).toEqual([100, 20, 100]);
    // A second row for a town: the link leads to many by the data, and no one value can be looked up.
    change("INSERT INTO town VALUES ('A', 7)");
    expect((await ws.schema()).links.find((l) => l.id === "byTown")?.b.leadsTo).toBe("many");
    expect((await ws.schema()).broken?.[0]?.why).toContain("leads to many");
  });
});

it("refuses a link between columns that cannot be compared", async () => {
  const link = (column: string): LinkSpec => ({
    version: 1,
    a: { table: "crate", columns: [column], name: "a" },
    b: { table: "yard", columns: ["id"], name: "b" },
    operators: ["is"],
  });
  await expect(checkObject(ws, "link", "l", link("mark"))).rejects.toThrow("cannot be compared");
  await expect(checkObject(ws, "link", "l", link("gone"))).rejects.toThrow("has no column “gone”");
  await expect(checkObject(ws, "link", "l", link("yard_id"))).resolves.toBeUndefined();
});

it("keeps what a person says of a column, and takes it back", async () => {
  ws.catalogue.setColumn("crate", "fee", { label: "charge", unit: "EUR", note: "net", format: { decimals: 0 }, type: { kind: "whole" } });
  const said = async () => findColumn(findTable(await ws.schema(), "crate") as never, "fee");
  expect(await said()).toMatchObject({ label: "charge", unit: "EUR", note: "net", type: { kind: "whole" }, format: { decimals: 0 } });
  ws.catalogue.setColumn("crate", "fee", { label: null, type: null });
  expect(await said()).toMatchObject({ label: "fee", unit: "EUR", type: { kind: "decimal", scale: 2 }, storage: "scaledInteger" });
});

describe("a change in the sheet", () => {
  const set = (column: string, text: string, was: string | null, key = 1) => editOf(ws, "crate", { kind: "change", key: [key], column, text, was }, caller);
  it("is checked, journaled, and taken back", async () => {
    await expect(set("fee", "a lot", "12.50")).rejects.toThrow("“a lot” is not a decimal");
    await expect(set("fee", "", "12.50")).rejects.toThrow("fee is required");
    await expect(set("mark", "b", "a")).rejects.toThrow("another row has the same mark");
    await expect(set("yard_id", "9", "1")).rejects.toThrow("no such yard");
    await expect(set("fee", "1", "99.00")).rejects.toThrow("Somebody else changed it to “12.50” meanwhile");
    await expect(set("fee", "1", "12.50", 77)).rejects.toThrow("the row does not exist any more");
    const entry = await set("day", "3/2/2026", "2026-01-31");
    expect(entry).toMatchObject({ kind: "edit", table: "crate", counts: { add: 0, change: 1, remove: 0 } });
    expect((await valuesOf("crate", "day"))[0]).toBe("2026-02-03");
    const added = await editOf(ws, "crate", { kind: "add", values: { mark: "new", fee: "1.5", yard_id: "" } }, caller);
    expect(await valuesOf("crate", "mark")).toContain("new");
    await expect(editOf(ws, "yard", { kind: "remove", keys: [[1]] }, caller)).rejects.toThrow("2 crates lead to it");
    for (const { number } of [added, entry]) {
      const { reversal } = await reversalPreviewOf(ws, number, false, caller);
      await expect(reverseOf(ws, number, false, `${reversal.digest} `, caller), "another preview's").rejects.toThrow("changed since the preview");
      await reverseOf(ws, number, false, reversal.digest, caller);
    }
    expect(await valuesOf("crate", "day")).toEqual(["2026-01-31", "2026-02-01", null]);
    expect((await journalOf(ws, caller)).entries.map((e) => [e.number, e.kind, e.reversedBy])).toEqual([
      [4, "reversal", null],
      [3, "reversal", null],
      [2, "edit", 3],
      [1, "edit", 4],
    ]);
    await expect(reverseOf(ws, 1, false, "", caller)).rejects.toThrow("already reversed");
  });
  it("adds several rows at once, or none of them, and says which one stands in the way", async () => {
    const rows = [
      { mark: "p", fee: "1.5", yard_id: "2" },
      { mark: "q", fee: "2", yard_id: "" },
    ];
    const added = await editOf(ws, "crate", { kind: "rows", rows }, caller);
    expect([added.counts.add, await valuesOf("crate", "mark")]).toEqual([2, ["a", "b", "c", "p", "q"]]);
    await reverseOf(ws, added.number, false, null, caller);
    const wrong = (more: Record<string, string>) => editOf(ws, "crate", { kind: "rows", rows: [...rows, { mark: "r", fee: "1", ...more }] }, caller);
    await expect(wrong({ fee: "much" })).rejects.toThrow("row 3 of the copied ones: fee: “much” is not a decimal");
    await expect(wrong({ mark: "a" })).rejects.toThrow("row 3 of the copied ones: another row has the same mark");
    await expect(wrong({ yard_id: "9" })).rejects.toThrow("row 3 of the copied ones: “9”: no such yard");
    expect(await valuesOf("crate", "mark")).toEqual(["a", "b", "c"]);
  });
  it("is made to a block of cells at once, or to none of them, and taken back by one entry", async () => {
    const cell = (column: string, text: string, was: string | null) => ({ column, text, was });
    const block = (...rows: [number, ReturnType<typeof cell>[]][]) =>
      editOf(ws, "crate", { kind: "block", rows: rows.map(([key, cells]) => ({ key: [key], cells })) }, caller);
    const before = [await valuesOf("crate", "fee"), await valuesOf("crate", "day")];
    const days = [cell("day", "1/3/2026", "2026-01-31")];
    await expect(block([1, days], [2, [cell("fee", "a lot", "1.00")]])).rejects.toThrow("It was not changed: row 2 of the block: ");
    await expect(block([1, days], [2, [cell("day", "", "2026-01-01")]])).rejects.toThrow("somebody else changed it to “2026-02-01” meanwhile");
    await expect(block([1, days], [2, [cell("mark", "a", "b")]])).rejects.toThrow("row 2 of the block: another row has the same mark");
    await expect(block([1, days], [77, days])).rejects.toThrow("row 2 of the block: the row does not exist any more");
    await expect(block([1, [cell("yard_id", "9", "1")]])).rejects.toThrow(/row 1 of the block: .*no such yard/);
    expect([await valuesOf("crate", "fee"), await valuesOf("crate", "day")]).toEqual(before);
    const entry = await block([1, [cell("fee", "7", "12.50"), ...days]], [2, [cell("day", "", "2026-02-01")]]);
    expect(entry).toMatchObject({ kind: "edit", counts: { add: 0, change: 2, remove: 0 } });
    expect(await valuesOf("crate", "day")).toEqual(["2026-03-01", null, null]);
    await reverseOf(ws, entry.number, false, (await reversalPreviewOf(ws, entry.number, false, caller)).reversal.digest, caller);
    expect([await valuesOf("crate", "fee"), await valuesOf("crate", "day")]).toEqual(before);
  });
  it("is made to a value that does not fit its column, known by its text", async () => {
    change("UPDATE crate SET day = 'soon' WHERE id = 1");
    await expect(set("day", "1/3/2026", "later")).rejects.toThrow("Somebody else changed it to “soon” meanwhile");
    await set("day", "1/3/2026", "soon");
    expect((await valuesOf("crate", "day"))[0]).toBe("2026-03-01");
  });
  it("is refused where a rule on rows reads one of the columns it writes", async () => {
    const { needUnread } = ws;
    ws.needUnread = async (_, column) => {
      if (column === "fee") throw new Error("a rule reads it");
    };
    const cell = (column: string, text: string, was: string) => ({ column, text, was });
    const block = (...cells: ReturnType<typeof cell>[]) => editOf(ws, "crate", { kind: "block", rows: [{ key: [1], cells }] }, caller);
    await expect(block(cell("day", "1/3/2026", "2026-01-31"), cell("fee", "7", "12.50"))).rejects.toThrow("a rule reads it");
    await expect(block(cell("day", "1/3/2026", "2026-01-31"))).resolves.toMatchObject({ kind: "edit" });
    ws.needUnread = needUnread;
  });
  it("leaves the shape known as reading the file again finds it, without reading it again", async () => {
    const plain = join(place.folder, "plain.sqlite");
    makeDatabase(plain, SCRIPT.replace(/CREATE (VIEW|TRIGGER)[^;]*;(\s*END;)?/g, ""));
    const own = openLedger(place.folder, plain);
    const read: string[] = [];
    const run = own.engine.run.bind(own.engine);
    own.engine.run = (job, options) => {
      read.push(job.kind);
      return run(job, options);
    };
    try {
      const edits = [
        { kind: "change", key: [1], column: "fee", text: "1.00", was: "12.50" },
        { kind: "add", values: { mark: "new", fee: "1.5", yard_id: "" } },
        { kind: "remove", keys: [[2]] },
      ] as const;
      await own.schema();
      for (const edit of edits) await editOf(own, "crate", structuredClone(edit) as Parameters<typeof editOf>[2], caller);
      const known = await own.schema();
      expect(read.filter((kind) => kind === "inspect")).toHaveLength(1);
      expect(findTable(known, "crate")?.rows).toBe(3);
      // What another program writes is read, and finds the same.
      makeDatabase(plain, "UPDATE yard SET town = 'C'");
      expect(await own.schema()).toEqual(known);
      expect(read.filter((kind) => kind === "inspect")).toHaveLength(2);
      makeDatabase(plain, "UPDATE crate SET day = 'soon' WHERE id = 3");
      await editOf(own, "crate", { kind: "change", key: [3], column: "fee", text: "1.00", was: "-0.50" }, caller);
      expect(findColumn(findTable(await own.schema(), "crate") as never, "day")?.misfits).toBe(1);
    } finally {
      own.close();
    }
  });
  it("is refused where rows cannot be told apart, in a view, and beside a trigger", async () => {
    await expect(editOf(ws, "loose", { kind: "add", values: { mark: "y" } }, caller)).rejects.toThrow("has no key");
    await expect(editOf(ws, "seen", { kind: "add", values: { name: "y" } }, caller)).rejects.toThrow("The table “seen” does not exist any more");
    await expect(editOf(ws, "watched", { kind: "add", values: { v: "y" } }, caller)).rejects.toThrow("A trigger of this table");
    expect(findTable(await ws.schema(), "watched")?.trigger).toBe("on_watched");
    expect(await valuesOf("loose", "mark")).toEqual(["x", "x"]);
  });
});

describe("a posting out of a query", () => {
  const summary: QuerySpec = {
    ...emptyQuery("crate"),
    grouped: true,
    columns: [
      { id: "k", value: field("yard_id"), label: "Yard" },
      { id: "t", value: field("fee"), figure: "total", label: "Fees, total" },
    ],
  };
  const spec = (more: Partial<PostingSpec> = {}): PostingSpec => ({
    version: 1,
    source: { kind: "query", id: "q", values: {} },
    action: "change",
    target: "yard",
    same: ["id"],
    present: "leave",
    breaking: "refuse",
    pairs: [
      { column: "id", value: { kind: "field", name: "Yard" } },
      { column: "town", value: { kind: "formula", text: `name_of || ' ' || "Fees, total"` } },
    ],
    ...more,
  });
  it("takes its figures exactly, by their headings", async () => {
    ws.catalogue.create("query", "Fees by yard", summary, "q");
    await expect(previewOf(ws, spec(), caller)).rejects.toThrow("uses “name_of”");
    const good = spec({
      pairs: [
        { column: "id", value: { kind: "field", name: "Yard" } },
        { column: "town", value: { kind: "formula", text: `'paid ' || "Fees, total"` } },
      ],
    });
    const preview = await previewOf(ws, good, caller);
    expect(preview.tally.outcomes).toMatchObject({ change: 2, refused: 0 });
    const entry = await postOf(ws, good, { name: "fees into towns", digest: preview.tally.digest, again: false }, caller);
    expect(entry.brief).toBe("Change rows of yard from Fees by yard, matched by id.");
    expect(await valuesOf("yard", "town")).toEqual(["paid 15.50", "paid -0.50", "A"]);
  });
  it("refuses rows whose values do not fit their type, as those of a table", async () => {
    const { default: Database } = await import("better-sqlite3");
    const db = new Database(ws.database);
    db.exec("UPDATE crate SET fee = 'much' WHERE mark = 'a'");
    db.close();
    const columns = ["mark", "fee"].map((id) => ({ id, value: { kind: "field" as const, join: "", column: id } }));
    ws.catalogue.create("query", "Crates", { ...emptyQuery("crate"), columns }, "crates");
    const pairs = ["mark", "fee"].map((column) => ({ column, value: { kind: "field" as const, name: column === "mark" ? "Mark" : "Fee" } }));
    const { tally } = await previewOf(ws, spec({ source: { kind: "query", id: "crates", values: {} }, target: "crate", same: ["mark"], pairs }), caller);
    expect(tally.outcomes).toMatchObject({ refused: 1, unchanged: 2 });
  });
});

describe("a person who sees some rows of a table", () => {
  it("is told nothing of entries that touch it, and moves no row out of it", async () => {
    change("CREATE TABLE kept (id INTEGER PRIMARY KEY, name TEXT)");
    const pair = (column: string) => ({ column, value: { kind: "field" as const, name: column } });
    const moving: PostingSpec = {
      version: 1,
      source: { kind: "table", table: "yard" },
      action: "move",
      target: "kept",
      same: ["id"],
      present: "leave",
      breaking: "refuse",
      pairs: [pair("id"), pair("name")],
    };
    const { tally } = await previewOf(ws, moving, caller);
    expect(tally.outcomes).toMatchObject({ move: 1, refused: 2 });
    await postOf(ws, moving, { name: "kept", digest: tally.digest, again: false }, caller);
    const analyst = await ws.people.create({ login: "some", name: "Some", role: "analyst", knownAs: "", password: "a long password" });
    const spec = {
      version: 1,
      who: { kind: "person", person: analyst.id },
      query: { ...emptyQuery("yard"), conditions: [{ id: "w", left: field("town"), operator: "is", values: [{ kind: "value", text: "A" }] }] },
    };
    const bound = ws.as(analyst);
    expect([(await entryOf(bound, 1, caller))?.number, (await journalOf(bound, caller)).entries.length]).toEqual([1, 1]);
    ws.catalogue.create("rule", "towns", spec, "r");
    expect([await entryOf(bound, 1, caller), (await journalOf(bound, caller)).entries]).toEqual([null, []]);
    expect((await entryOf(ws, 1, caller))?.others).toEqual(["yard"]);
    await expect(previewOf(bound, moving, caller)).rejects.toThrow("a row rule hides some from you");
    await expect(reversalPreviewOf(bound, 1, false, caller)).rejects.toThrow("a row rule hides some from you");
  });
});

describe("duplicates", () => {
  const asked = { table: "yard", groups: [{ keep: ["1"], others: [["2"]] }], fill: true };
  it("are found and merged, with what leads to them, as they were looked at", async () => {
    change("UPDATE yard SET name = 'NORTH.' WHERE id = 2");
    const { groups, all } = await duplicatesOf(ws, "yard", ["name"], false, caller);
    expect([groups.length, all]).toEqual([1, { groups: 1, rows: 1, of: 3 }]);
    const { digest, carried } = await mergePreviewOf(ws, asked, caller);
    expect(carried.map((c) => [c.table, c.rows])).toEqual([["crate", 1]]);
    await expect(mergeOf(ws, asked, "another", caller)).rejects.toThrow("have changed since the preview");
    const { brief } = await mergeOf(ws, asked, digest, caller);
    expect(brief).toBe("Merge 1 group of duplicate rows in yard, with the rows that lead to them.");
    expect(await valuesOf("crate", "yard_id")).toEqual([1, 1, 1]);
  });
  it("are so only of a table with a key, by those who see every row of it and of what leads to it", async () => {
    await expect(duplicatesOf(ws, "loose", ["mark"], false, caller)).rejects.toThrow("has no key");
    await expect(duplicatesOf(ws, "yard", ["gone"], false, caller)).rejects.toThrow("no column “gone”");
    await expect(duplicatesOf(ws, "seen", ["name"], false, caller)).rejects.toThrow("does not exist any more");
    const analyst = await ws.people.create({ login: "some", name: "Some", role: "analyst", knownAs: "", password: "a long password" });
    const bound = ws.as(analyst);
    expect((await duplicatesOf(bound, "yard", ["name"], false, caller)).groups).toEqual([]);
    const conditions = [{ id: "w", left: field("mark"), operator: "is", values: [{ kind: "value", text: "a" }] }];
    ws.catalogue.create("rule", "marks", { version: 1, who: { kind: "person", person: analyst.id }, query: { ...emptyQuery("crate"), conditions } }, "r");
    for (const refused of [duplicatesOf(bound, "yard", ["name"], false, caller), mergePreviewOf(bound, asked, caller), mergeOf(bound, asked, "", caller)])
      await expect(refused).rejects.toThrow("a row rule hides some from you");
    expect((await duplicatesOf(ws, "yard", ["name"], false, caller)).groups).toEqual([]);
  });
});

describe("a file into a table that is there", () => {
  const bytes = (text: string) => new Response(text).body;
  const keepText = (name: string, text: string) => keepFile(ws, { name, bytes: Buffer.byteLength(text) }, bytes(text));
  it("is refused, and not kept, where less or something else arrived than was sent", async () => {
    const whole = { name: "cut.csv", bytes: 5, sha256: createHash("sha256").update("n\n12\n").digest("hex") };
    await expect(keepFile(ws, { ...whole, bytes: 6 }, bytes("n\n12\n"))).rejects.toThrow("5 of 6 bytes");
    await expect(keepFile(ws, whole, bytes("n\n13\n"))).rejects.toThrow("damaged");
    expect(readdirSync(join(ws.folder, "imports"))).toEqual([]);
    expect((await keepFile(ws, whole, bytes("n\n12\n"))).bytes).toBe(5);
  });
  it("comes as a draft posting, its columns paired by name; nothing is written before it is posted", async () => {
    const kept = await keepText("new crates.csv", "Mark;Fee;day;yard\ne;12,50;3/2/2026;north\nf;n/a;30/2/2026;north\na;1,00;;south\n");
    const shares: number[] = [];
    const { format, scan } = await scanOf(ws, kept.id, null, { ...caller, onProgress: (share) => shares.push(share) });
    expect(scan.rows).toBe(3);
    const columns = scan.names.map((name, i) => ({
      name,
      type: scan.columns[i]?.proposal.type ?? { kind: "text" as const },
      dates: "dmy" as const,
      left: false,
    }));
    const typed = columns.map((c) =>
      c.name === "Fee" ? { ...c, type: { kind: "decimal" as const, scale: 2 } } : c.name === "day" ? { ...c, type: { kind: "date" as const } } : c,
    );
    const { posting } = await importOf(ws, kept.id, { format, columns: typed, misfits: "keep", into: { kind: "posting", target: "crate" } }, caller);
    const draft = postingSpecSchema.parse(ws.catalogue.get(posting ?? "")?.spec);
    expect(draft.pairs.map((p) => p.column)).toEqual(["yard_id", "mark", "day", "fee"]);
    expect(await valuesOf("crate", "mark")).toEqual(["a", "b", "c"]);
    expect(draft.pairs[0]?.found, "a yard by its name").toEqual({ link: "crate.yard_id", by: "name" });
    const spec: PostingSpec = { ...draft, same: ["mark"] };
    const { tally } = await previewOf(ws, spec, caller);
    expect(tally.outcomes).toMatchObject({ add: 1, differs: 1, refused: 1 });
    await postOf(ws, spec, { name: "new crates", digest: tally.digest, again: false }, caller);
    expect(await valuesOf("crate", "fee")).toEqual([1250, 300, -50, 1250]);
    expect(await valuesOf("crate", "day")).toEqual(["2026-01-31", "2026-02-01", null, "2026-02-03"]);
  });
  it("is paired by its values where names say nothing: texts the table has already, and names of the rows it leads to", async () => {
    const kept = await keepText("odd names.csv", "A;B;C\na;north;1\nzz;south;2\n;south;3\n");
    const { format, scan } = await scanOf(ws, kept.id, null, caller);
    const spec = { format, columns: columnsProposed(scan), misfits: "keep" as const, into: { kind: "posting" as const, target: "crate" } };
    const { posting } = await importOf(ws, kept.id, spec, caller);
    const draft = postingSpecSchema.parse(ws.catalogue.get(posting ?? "")?.spec);
    expect(draft.pairs).toEqual([
      { column: "yard_id", value: { kind: "field", name: "B" }, found: { link: "crate.yard_id", by: "name" } },
      { column: "mark", value: { kind: "field", name: "A" } },
    ]);
  });
  it("is cleaned first: spaces, capitals, values that mean others, filled down; and each row once where that is wished", async () => {
    const kept = await keepText("messy.csv", "yard;day;fee;n\n north  yard ;3/2/2026;1,50;1\n;n/a;2,00;2\nNORTH YARD;3 Feb 2026;1,50;1\nEAST;;-;4\n");
    const cleans = [
      { trim: true, case: "title" as const, down: true },
      { mapped: [{ written: "n/a", text: "" }] },
      { mapped: [{ written: "-", text: "0" }] },
      undefined,
    ];
    const plain = await scanOf(ws, kept.id, null, caller);
    expect(columnsProposed(plain.scan).map((c) => c.type.kind)).toEqual(["text", "text", "decimal", "whole"]);
    const { format, scan } = await scanOf(ws, kept.id, plain.format, caller, cleans);
    const columns = columnsProposed(scan).map((c, i) => ({ ...c, ...(cleans[i] ? { clean: cleans[i] } : {}) }));
    expect(columns.map((c) => [c.type.kind, c.dates])).toEqual([
      ["text", "ymd"],
      ["date", "dmy"],
      ["decimal", "ymd"],
      ["whole", "ymd"],
    ]);
    const spec = { format, columns, misfits: "keep" as const, once: true, into: { kind: "table" as const, name: "messy", key: null } };
    const { imported } = await importOf(ws, kept.id, importSpecSchema.parse(spec), caller);
    expect([imported.rows, imported.leftOut, imported.misfits]).toEqual([3, 1, 0]);
    const sorted = async (column: string) => (await valuesOf("messy", column)).map(String).sort();
    expect(await sorted("yard")).toEqual(["East", "North Yard", "North Yard"]);
    expect(await sorted("day")).toEqual(["2026-02-03", "null", "null"]);
    expect(await sorted("fee")).toEqual(["0", "150", "200"]);
  });
  it("has the unit that stands beside its numbers, and percentages as such", async () => {
    const kept = await keepText("paid.csv", "no;paid;share\n1;12,50 €;3,5 %\n2;3 €;10 %\n");
    const { format, scan } = await scanOf(ws, kept.id, null, caller);
    await importOf(ws, kept.id, { format, columns: columnsProposed(scan), misfits: "keep", into: { kind: "table", name: "paid", key: "no" } }, caller);
    const table = findTable(await ws.schema(), "paid");
    expect(table?.columns.map((c) => [c.name, c.unit, c.format?.percent])).toEqual([
      ["no", undefined, undefined],
      ["paid", "EUR", undefined],
      ["share", undefined, true],
    ]);
    expect([await valuesOf("paid", "paid"), await valuesOf("paid", "share")]).toEqual([
      [1250, 300],
      [35, 100],
    ]);
  });
  it("is stopped in the middle and leaves nothing", async () => {
    const rows = Array.from({ length: 200_000 }, (_, i) => `${i};row ${i}`).join("\n");
    const kept = await keepText("many.csv", `n;name\n${rows}\n`);
    const stop = new AbortController();
    const columns = [
      { name: "n", type: { kind: "whole" as const }, dates: "ymd" as const, left: false },
      { name: "name", type: { kind: "text" as const }, dates: "ymd" as const, left: false },
    ];
    const format = { kind: "delimited" as const, delimiter: ";", quote: '"' as const, encoding: "utf-8" as const, heading: true, comma: false };
    const spec = { format, columns, misfits: "keep" as const, into: { kind: "table" as const, name: "arrivals", key: null } };
    await expect(importOf(ws, kept.id, spec, { ...caller, signal: stop.signal, onProgress: () => stop.abort() })).rejects.toThrow("Stopped");
    expect((await ws.schema()).tables.map((t) => t.name)).not.toContain("arrivals");
    const done = await importOf(ws, kept.id, spec, caller);
    expect(done.imported.rows).toBe(200_000);
    expect((await valuesOf("arrivals", "n")).length).toBe(100);
  });
});

describe("a posting of the same rows", () => {
  it("is known for one by another name of the table, and so are the rows it added", async () => {
    change("CREATE TABLE more (mark TEXT, fee INTEGER_SCALED(2)); INSERT INTO more VALUES ('m1', 100), ('m2', 200)");
    const spec = (target: string, more: Partial<PostingSpec> = {}): PostingSpec => ({
      version: 1,
      source: { kind: "table", table: "more" },
      action: "add",
      target,
      same: ["mark"],
      present: "leave",
      breaking: "refuse",
      pairs: ["mark", "fee"].map((column) => ({ column, value: { kind: "field", name: column } })),
      ...more,
    });
    const { tally } = await previewOf(ws, spec("crate"), caller);
    const { number } = await postOf(ws, spec("crate"), { name: "more", digest: tally.digest, again: false }, caller);
    const shape = { ...edit.startShape(findTable(await ws.schema(), "crate") as Table), name: "box" };
    await shapeOf(ws, shape, (await surveyOf(ws, shape, caller)).survey.digest, caller);
    const again = await previewOf(ws, spec("box"), caller);
    expect(again.tally).toMatchObject({ outcomes: { add: 0, there: 2 }, before: { number }, since: [{ posting: number, rows: 2 }] });
    // A table that takes the old name later has had none of it.
    change("CREATE TABLE crate (mark TEXT PRIMARY KEY, fee INTEGER_SCALED(2)); INSERT INTO crate VALUES ('m1', 100)");
    const other = await previewOf(ws, spec("crate"), caller);
    expect(other.tally).toMatchObject({ outcomes: { add: 1, there: 1 }, before: null, since: [] });
  });
});

describe("reading beside a posting", () => {
  it("sees all of it or none", async () => {
    change(
      `CREATE TABLE many (mark TEXT, fee INTEGER_SCALED(2)); WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 20000) INSERT INTO many SELECT 'm' || i, 100 FROM n;`,
    );
    const spec: PostingSpec = {
      version: 1,
      source: { kind: "table", table: "many" },
      action: "add",
      target: "crate",
      same: ["mark"],
      present: "leave",
      breaking: "refuse",
      pairs: ["mark", "fee"].map((column) => ({ column, value: { kind: "field", name: column } })),
    };
    const { tally } = await previewOf(ws, spec, caller);
    let posting = true;
    const posted = postOf(ws, spec, { name: "many", digest: tally.digest, again: false }, { client: "writer" }).finally(() => {
      posting = false;
    });
    const seen = new Set<string>();
    const question = { spec: { ...emptyQuery("crate"), columns: [{ id: "f", value: field("fee") }] }, values: {} };
    let looks = 0;
    while (posting) {
      const { rows, totals } = await footingOf(ws, question, { client: "reader" });
      seen.add(`${rows} ${totals.f}`);
      looks++;
    }
    await posted;
    const { rows, totals } = await footingOf(ws, question, caller);
    seen.add(`${rows} ${totals.f}`);
    expect(looks).toBeGreaterThan(3);
    expect([...seen].sort()).toEqual(["20003 2001500", "3 1500"]);
  });
});

describe("the history of a row", () => {
  const told = async (table: string, key: string[]) =>
    (await rowHistoryOf(ws, table, key, caller)).map(({ kind, reversed, fields }) => [kind, reversed, ...fields.map((f) => [f.column, f.before, f.after])]);
  it("has who changed what, the latest first, by any name the table had", async () => {
    const change = (text: string, was: string) => editOf(ws, "crate", { kind: "change", key: [2], column: "fee", text, was }, caller);
    await change("4", "3.00");
    const second = await change("5", "4.00");
    await editOf(ws, "crate", { kind: "add", values: { mark: "new", fee: "1" } }, caller);
    await reverseOf(ws, second.number, false, null, caller);
    expect(await told("crate", ["2"])).toEqual([
      ["change", false, ["fee", 500, 400]],
      ["change", true, ["fee", 400, 500]],
      ["change", false, ["fee", 300, 400]],
    ]);
    expect(await told("crate", ["4"])).toEqual([["add", false]]);
    expect(await told("crate", ["1"])).toEqual([]);
    expect(await told("crate", ["99"])).toEqual([]);
    const start = edit.startShape(findTable(await ws.schema(), "crate") as Table);
    const spec = { ...start, name: "box" };
    await shapeOf(ws, spec, (await surveyOf(ws, spec, caller)).survey.digest, caller);
    expect((await told("box", ["2"])).length).toBe(3);
    // A table that takes the old name later has a history of its own.
    new Database(file).exec("CREATE TABLE crate (id INTEGER PRIMARY KEY, fee INTEGER); INSERT INTO crate VALUES (2, 1)").close();
    expect(await told("crate", ["2"])).toEqual([]);
    new Database(file).exec("DROP TABLE crate").close();
    await expect(told("crate", ["2"])).rejects.toThrow("does not exist any more");
  });
});

describe("what is said of a column", () => {
  it("is changed with the table, by the name it has then, and is as before once that is reversed", async () => {
    ws.catalogue.setColumn("crate", "fee", { unit: "EUR" });
    const said = async () => findTable(await ws.schema(), "crate")?.columns.flatMap((c) => (c.unit || c.note ? [[c.name, c.unit, c.note]] : []));
    const start = edit.startShape(findTable(await ws.schema(), "crate") as Table);
    const spec = edit.setColumn(edit.setColumn(start, "fee", { name: "price", unit: "USD", note: "With tax." }), "day", { note: "Of arrival." });
    const { survey } = await surveyOf(ws, spec, caller);
    const { number, brief } = await shapeOf(ws, spec, survey.digest, caller);
    expect(brief).toContain("describe day; price is in USD; describe price");
    expect(await said()).toEqual([
      ["day", undefined, "Of arrival."],
      ["price", "USD", "With tax."],
    ]);
    const back = await reverseOf(ws, number, false, null, caller);
    expect(await said()).toEqual([["fee", "EUR", undefined]]);
    await reverseOf(ws, back.number, false, null, caller);
    expect((await said())?.at(-1)).toEqual(["price", "USD", "With tax."]);
  });
});

describe("a table with other names", () => {
  const carry = async (spec: ShapeSpec) => {
    const { survey, uses } = await surveyOf(ws, spec, caller);
    return { uses, entry: await shapeOf(ws, spec, survey.digest, caller) };
  };
  const shape = async (table: string, names: Record<string, string>, more: Partial<ShapeSpec> = {}): Promise<ShapeSpec> => {
    const start = edit.startShape(findTable(await ws.schema(), table) as Table);
    return { ...start, columns: start.columns.map((c) => ({ ...c, name: names[c.name] ?? c.name })), ...more };
  };
  const fees = {
    ...emptyQuery("crate"),
    columns: [
      { id: "v", value: { kind: "formula" as const, text: "fee * 2" } },
      { id: "m", value: field("mark") },
    ],
  };

  it("takes queries, derived fields, links and what was said of columns along, and back when it is reversed", async () => {
    ws.catalogue.create("query", "fees", fees, "q");
    ws.catalogue.create("derived", "fees", rollup({}), "d");
    ws.catalogue.create("derived", "twice", formula("crate", "fee * 2"), "t");
    ws.catalogue.setColumn("crate", "mark", { label: "the mark" });
    const state = () => ws.catalogue.list().map(({ id, spec }) => [id, JSON.stringify(spec)]);
    const before = [state(), ws.catalogue.columnSettings()];
    const { uses, entry } = await carry(await shape("crate", { fee: "price", mark: "sign", yard_id: "site" }, { name: "box" }));
    expect(uses).toEqual({ named: [], hidden: 0, carried: 3 });
    const { spec } = ws.catalogue.get("q") as { spec: QuerySpec };
    expect([spec.source, spec.columns.map((c) => c.value)]).toEqual(["box", [{ kind: "formula", text: "price * 2" }, field("sign")]]);
    expect(JSON.parse((await rowsOf(ws, { spec, values: {} }, { offset: 0, rows: 9 }, caller)).toString())).toEqual([
      [2500, "a"],
      [600, "b"],
      [-100, "c"],
    ]);
    expect(await valuesOf("yard", "d")).toEqual([1550, -50, null]);
    expect(await valuesOf("box", "t")).toEqual([2500, 600, -100]);
    expect(ws.catalogue.columnSettings()).toMatchObject([{ table: "box", column: "sign", label: "the mark" }]);
    expect((await ws.schema()).broken).toEqual([]);
    await reverseOf(ws, entry.number, false, null, caller);
    expect([state(), ws.catalogue.columnSettings()]).toEqual(before);
    expect(await valuesOf("yard", "d")).toEqual([1550, -50, null]);
  });
  it("is read as what its columns were made, whatever was said of their types before", async () => {
    change("CREATE TABLE tight (code TEXT PRIMARY KEY, at TEXT, n TEXT) STRICT; INSERT INTO tight VALUES ('a', NULL, '2026-01-02')");
    ws.catalogue.setColumn("tight", "n", { type: { kind: "date" } });
    const types = async () => (findTable(await ws.schema(), "tight") as Table).columns.map((c) => c.type.kind);
    expect(await types()).toEqual(["text", "text", "date"]);
    const start = await shape("tight", {});
    // A STRICT table has no dates; this one has no value yet that would tell.
    const spec = edit.setColumn(edit.setType(edit.setType(start, "at", { kind: "date" }), "n", { kind: "text" }), "n", { name: "note" });
    const { entry } = await carry(spec);
    expect(await types()).toEqual(["text", "date", "text"]);
    await reverseOf(ws, entry.number, false, null, caller);
    expect(await types()).toEqual(["text", "text", "date"]);
  });
  it("names what would stop working where a column is removed, and lets no other take its name", async () => {
    ws.catalogue.create("query", "fees", fees, "q");
    ws.catalogue.create("derived", "twice", formula("crate", "fee * 2"), "t");
    const start = await shape("crate", {});
    const { uses } = await surveyOf(ws, edit.removeColumn(start, "fee"), caller);
    expect(uses.named.map((u) => [u.kind, u.name])).toEqual([
      ["derived", "twice"],
      ["query", "fees"],
    ]);
    expect((await dropUsesOf(ws, "crate")).named.map((u) => u.name)).toEqual(["twice", "fees"]);
    const instead = edit.setColumn(edit.removeColumn(start, "fee"), "day", { name: "Fee" });
    await expect(surveyOf(ws, instead, caller)).rejects.toThrow("The column “fee” is removed here");
    await expect(shapeOf(ws, await shape("crate", { day: "date" }), "another digest", caller)).rejects.toThrow("have changed since the preview");
    await expect(dropOf(ws, "yard", caller)).rejects.toThrow("a foreign key of “crate” leads to it");
    await expect(dropOf(ws, "seen", caller)).rejects.toThrow("does not exist any more");
  });
  it("is made of a query's rows to the last digit, and lets go again", async () => {
    const rows = () => rowsOf(ws, { spec: { ...fees, order: [{ column: "m", direction: "up" }] }, values: {} }, { offset: 0, rows: 9 }, caller);
    const before = JSON.parse((await rows()).toString());
    const entry = await tableOfQuery(ws, { spec: fees, values: {} }, "fees kept", "Fees", caller);
    expect(entry).toMatchObject({ kind: "table", counts: { add: 3 }, brief: "Create the table fees kept from the rows of Fees." });
    const table = findTable(await ws.schema(), "fees kept") as Table;
    expect(table.columns.map((c) => [c.name, c.type])).toEqual([
      ["Fee * 2", { kind: "decimal", scale: 2 }],
      ["Mark", { kind: "text" }],
    ]);
    const kept: QuerySpec = {
      ...emptyQuery("fees kept"),
      columns: table.columns.map((c) => ({ id: c.name, value: field(c.name) })),
      order: [{ column: "Mark", direction: "up" }],
    };
    expect(JSON.parse((await rowsOf(ws, { spec: kept, values: {} }, { offset: 0, rows: 9 }, caller)).toString())).toEqual(before);
    for (const name of ["Fees KEPT", "sqlite_x"])
      await expect(tableOfQuery(ws, { spec: fees, values: {} }, name, "Fees", caller)).rejects.toThrow("is already used or reserved");
    await reverseOf(ws, entry.number, false, null, caller);
    expect(findTable(await ws.schema(), "fees kept")).toBeUndefined();
  });
});
