import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import type { Person } from "@/server/catalogue/people";
import { noteVisit, tableVisit } from "@/server/services/desk/visits";
import { findItems } from "@/server/services/find/items";
import { findRows } from "@/server/services/find/rows";
import type { Workspace } from "@/server/services/workspace/workspace";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";

/* What find-or-do finds: nobody finds what they may not see. */

let place: ReturnType<typeof temporaryFolder>;
let ws: Workspace;
let clock: Date;
beforeEach(() => {
  place = temporaryFolder();
  clock = new Date("2026-11-20T05:00:00Z");
  const file = makeDatabase(
    join(place.folder, "b.sqlite"),
    `CREATE TABLE shipper (id INTEGER PRIMARY KEY, name TEXT, desk INTEGER);
    INSERT INTO shipper VALUES (1, 'Skarrow Timber', 7), (2, 'Skárrow Wool', 8), (3, 'Pell Fish', 7), (4, NULL, 7);
    CREATE TABLE loose (name TEXT);
    INSERT INTO loose VALUES ('Skarrow without a key');
    CREATE TABLE pair (a TEXT, b INTEGER, title TEXT, PRIMARY KEY (a, b));
    INSERT INTO pair VALUES ('x', 1, 'Skarrow pair');
    CREATE VIEW seen AS SELECT * FROM shipper;`,
  );
  ws = openLedger(place.folder, file, () => clock);
});
afterEach(() => {
  ws.close();
  place.remove();
});

const caller = { client: "test" };
const person = async (login: string, role: Person["role"], knownAs = "") =>
  ws.as(await ws.people.create({ login, name: login, role, password: null, knownAs }));

describe("rows by their names", () => {
  it("are found whatever their case and accents, with the key that opens their folio; tables without a key and views have none", async () => {
    expect(await findRows(ws, "skarrow", caller)).toEqual([
      { table: "pair", label: "pair", key: ["x", "1"], name: "Skarrow pair" },
      { table: "shipper", label: "shipper", key: ["1"], name: "Skarrow Timber" },
      { table: "shipper", label: "shipper", key: ["2"], name: "Skárrow Wool" },
    ]);
    expect(await findRows(ws, "%", caller), "what is typed is no pattern").toEqual([]);
    expect(await findRows(ws, "' OR 1=1 --", caller)).toEqual([]);
  });
  it("are found with typing errors where none has the words as they are, the likest first", async () => {
    const names = async (words: string) => (await findRows(ws, words, caller)).map((r) => r.name);
    expect((await names("skarow timb"))[0]).toBe("Skarrow Timber");
    expect(await names("Pell Fihs")).toEqual(["Pell Fish"]);
    expect([await names("nothing of the kind"), await names("nul"), await names("null")]).toEqual([[], [], []]);
    expect((await names("skarrow w")).length, "those that have the words stand alone").toBe(1);
  });
  it("are only those that the rules on rows let through", async () => {
    await person("ingrid", "owner");
    const analyst = await person("tomas", "analyst", "7");
    const own = { id: "w", left: { kind: "field" as const, join: "", column: "desk" }, operator: "is" as const, values: [{ kind: "person" as const }] };
    const query = { ...emptyQuery("shipper"), conditions: [own] };
    ws.catalogue.create("rule", "own", { version: 1, who: { kind: "role", role: "analyst" }, query });
    expect((await findRows(analyst, "skarrow", caller)).map((r) => r.name)).toEqual(["Skarrow pair", "Skarrow Timber"]);
    expect((await findRows(analyst, "skarow wol", caller)).map((r) => r.name)).not.toContain("Skárrow Wool");
  });
});

describe("objects, tables and columns", () => {
  it("are found with what was opened last first, and columns after them", async () => {
    for (const name of ["Alpha", "Beta"]) ws.catalogue.create("query", name, emptyQuery("shipper"), name);
    noteVisit(ws, "Beta");
    clock = new Date(clock.getTime() + 1000);
    noteVisit(ws, tableVisit("pair"));
    const items = await findItems(ws);
    expect(items.slice(0, 3).map((i) => i.name)).toEqual(["pair", "Beta", "Alpha"]);
    expect(items.filter((i) => i.kind === "column" && i.name === "title")).toEqual([{ kind: "column", id: "pair", name: "title", of: "pair" }]);
  });
  it("are for a viewer those that are shared, and no tables", async () => {
    const owner = await person("ingrid", "owner");
    const viewer = await person("una", "viewer");
    for (const name of ["Alpha", "Beta"]) owner.objects.create("query", name, emptyQuery("shipper"), name);
    ws.people.share("Beta", "", "see");
    expect(await findItems(viewer)).toEqual([{ kind: "query", id: "Beta", name: "Beta" }]);
  });
});
