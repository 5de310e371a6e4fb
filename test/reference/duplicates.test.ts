import { join } from "node:path";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { MergeGroup } from "@/core/duplicates/merging";
import { linksOf } from "@/core/posting/plan";
import { findTable, type Schema, type Table } from "@/core/schema/schema";
import { findDuplicates } from "@/server/jobs/duplicates/find";
import { type Merging, mergeRows, previewMerge } from "@/server/jobs/duplicates/merge";
import { LinkChecks } from "@/server/jobs/posting/linkChecks";
import { previewReversal, reverse } from "@/server/jobs/posting/run";
import { encodeImage, type Image, Target } from "@/server/jobs/posting/target";
import { linksInto } from "@/server/services/duplicates/service";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { seeded } from "../../demo/random";
import { allRows, temporaryFolder } from "../support/ledger";

/* Rows that are alike become one: what led to any of them leads to it, nothing else changes, and all is as before once that is reversed. */

const SCRIPT = `
CREATE TABLE shop (id INTEGER PRIMARY KEY, name TEXT NOT NULL, town TEXT, code TEXT UNIQUE, parent_id INTEGER REFERENCES shop(id));
CREATE TABLE sale (id INTEGER PRIMARY KEY, shop_id INTEGER REFERENCES shop(id), fee INTEGER_SCALED(2));
CREATE TABLE stamp (shop_id INTEGER REFERENCES shop(id), n INTEGER, PRIMARY KEY (shop_id, n)) WITHOUT ROWID;
INSERT INTO shop VALUES (1, 'Pell & Sons', NULL, NULL, 2), (2, 'pell, sons', 'Skarrow', 'p', NULL), (3, 'Oat', 'Holm', 'o', 1), (4, 'Sons Pell', 'Mirrin', 'q', 4), (5, 'OAT', '', NULL, 3), (6, 'Rowan', NULL, NULL, 5);
INSERT INTO sale VALUES (1, 1, 150), (2, 2, 250), (3, 2, NULL), (4, 3, 5), (5, 5, 6), (6, NULL, 7);
INSERT INTO stamp VALUES (1, 1), (2, 2), (3, 1), (5, 1);
CREATE VIEW by_shop AS SELECT shop_id, COUNT(*) FROM sale GROUP BY shop_id;`;

let place: ReturnType<typeof temporaryFolder>;
let file: string;
beforeEach(() => {
  place = temporaryFolder();
  file = join(place.folder, "business.sqlite");
  new Database(file).exec(SCRIPT).close();
});
afterEach(() => place.remove());

function read<T>(work: (db: Database.Database) => T): T {
  const db = new Database(file, { readonly: true });
  try {
    return work(db);
  } finally {
    db.close();
  }
}
const all = (sql: string) => allRows(file, sql);
const schemaNow = (): Schema => read((db) => inspectDatabase(db, []));
const everything = () => ["shop", "sale", "stamp"].map((table) => all(`SELECT * FROM ${table} ORDER BY 1, 2`));
const merging = (groups: MergeGroup[], fill = true): Merging => {
  const schema = schemaNow();
  return { table: findTable(schema, "shop") as Table, links: linksInto(schema, "shop"), groups, fill };
};
const ENTRY = { at: "2026-12-01T00:00:00.000Z", by: "test", kind: "edit" as const, name: "merged", brief: "", table: "shop" };
const merge = (asked: Merging) => {
  const merged = previewMerge(file, asked);
  return { merged, number: mergeRows(file, asked, merged.digest, ENTRY).number };
};
const takeBack = (number: number) => {
  const { digest, left } = previewReversal(file, schemaNow(), number, false, join(place.folder, "reversal.sqlite"));
  const { kind: _, table: __, ...entry } = ENTRY;
  return { left, number: reverse(file, schemaNow(), number, false, digest, { ...entry, kind: "reversal" }).number };
};
const find = (columns: string[], near = false) =>
  read((db) => {
    const schema = inspectDatabase(db, []);
    const links = linksInto(schema, "shop").map(({ link }) => link);
    return findDuplicates(db, findTable(schema, "shop") as Table, links, { columns, near });
  });

describe("duplicates", () => {
  it("are told with the rows that lead to each", () => {
    const { groups, all: counts } = find(["name"]);
    expect(counts).toEqual({ groups: 2, rows: 3, of: 6 });
    expect(groups.map((g) => g.rows.map((r) => [r.key, r.links]))).toEqual([
      [
        [["1"], 3],
        [["2"], 4],
        [["4"], 1],
      ],
      [
        [["3"], 3],
        [["5"], 3],
      ],
    ]);
    expect(find(["name", "town"]).all).toEqual({ groups: 0, rows: 0, of: 6 });
  });

  it("become one row: what led to the others leads to it, its empty values are theirs, and it leads to itself no more", () => {
    const before = everything();
    const { merged, number } = merge(merging([{ keep: ["1"], others: [["2"], ["4"]] }]));
    expect(merged).toMatchObject({ rowsBefore: 6, rowsAfter: 4, groups: 1, filled: 2, refused: [] });
    expect(merged.carried.map((c) => [c.table, c.rows])).toEqual([
      ["sale", 2],
      ["shop", 1],
      ["stamp", 1],
    ]);
    expect(all("SELECT * FROM shop")).toEqual([
      [1, "Pell & Sons", "Skarrow", "p", null],
      [3, "Oat", "Holm", "o", 1],
      [5, "OAT", "", null, 3],
      [6, "Rowan", null, null, 5],
    ]);
    expect(all("SELECT shop_id, SUM(fee), COUNT(*) FROM sale GROUP BY 1")).toEqual([
      [null, 7, 1],
      [1, 400, 3],
      [3, 5, 1],
      [5, 6, 1],
    ]);
    expect(all("SELECT * FROM stamp")).toEqual([
      [1, 1],
      [1, 2],
      [3, 1],
      [5, 1],
    ]);
    expect(takeBack(number).left).toBe(0);
    expect(everything()).toEqual(before);
  });

  it("of which two rows elsewhere would become the same are left whole, with the reason; the other groups are merged", () => {
    const { merged } = merge(
      merging(
        [
          { keep: ["3"], others: [["5"]] },
          { keep: ["2"], others: [["1"]] },
          { keep: ["6"], others: [["99"]] },
        ],
        false,
      ),
    );
    expect(merged).toMatchObject({ groups: 1, filled: 0, rowsAfter: 5 });
    expect(merged.refused).toEqual([
      { key: "3", why: "another row has the same shop_id and n" },
      { key: "6", why: "a row of this group does not exist any more" },
    ]);
    expect(all("SELECT id, parent_id FROM shop")).toEqual([
      [2, null],
      [3, 2],
      [4, 4],
      [5, 3],
      [6, 5],
    ]);
    expect(all("SELECT shop_id FROM sale")).toEqual([[2], [2], [2], [3], [5], [null]]);
  });

  it("that lead to themselves alone may go, and not get another key, which they would lead to no more", () => {
    const schema = schemaNow();
    const shop = findTable(schema, "shop") as Table;
    const told = read((db) => {
      const checks = new LinkChecks(db, linksOf(shop, schema), shop);
      const target = new Target(db, shop);
      const row = target.find(encodeImage([4n])) as Image;
      const other = target.find(encodeImage([3n])) as Image;
      return [checks.inward(row), checks.inward(row, ["id"]), checks.inward(row, ["name"]), checks.inward(other)];
    });
    expect(told).toEqual([null, "1 shop leads to it", null, "1 sale leads to it"]);
  });

  it("are merged only as they were looked at", () => {
    const asked = merging([{ keep: ["1"], others: [["2"]] }]);
    const { digest } = previewMerge(file, asked);
    new Database(file).exec("INSERT INTO sale VALUES (7, 2, 1)").close();
    expect(() => mergeRows(file, asked, digest, ENTRY)).toThrow("changed");
    const looked = previewMerge(file, asked).digest;
    new Database(file).exec("UPDATE shop SET code = 'other' WHERE id = 2").close();
    expect(() => mergeRows(file, asked, looked, ENTRY)).toThrow("changed");
    const none = merging([{ keep: ["3"], others: [["5"]] }]);
    expect(() => mergeRows(file, none, previewMerge(file, none).digest, ENTRY)).toThrow("none of these groups can be merged");
    expect(all("SELECT COUNT(*) FROM shop")).toEqual([[6]]);
  });

  it.each([1, 2, 3, 4, 5, 6])("at random: no row elsewhere is lost or leads nowhere, totals stay, and it is taken back, and again; seed %i", (seed) => {
    const random = seeded(seed).next;
    const pick = (n: number) => 1 + Math.floor(random() * n);
    const db = new Database(file);
    db.exec("PRAGMA foreign_keys = OFF; DELETE FROM stamp; DELETE FROM sale; DELETE FROM shop");
    for (let id = 1; id <= 40; id++)
      db.prepare("INSERT INTO shop VALUES (?, ?, ?, ?, ?)").run(
        id,
        `shop ${pick(12)}`,
        random() < 0.5 ? null : `t${pick(5)}`,
        random() < 0.6 ? null : `c${id}`,
        random() < 0.4 ? pick(40) : null,
      );
    for (let id = 1; id <= 150; id++) db.prepare("INSERT INTO sale VALUES (?, ?, ?)").run(id, random() < 0.1 ? null : pick(40), pick(1000));
    for (let n = 1; n <= 60; n++) db.prepare("INSERT OR IGNORE INTO stamp VALUES (?, ?)").run(pick(40), pick(30));
    db.close();
    const before = everything();
    const nameOf = new Map(all("SELECT id, name FROM shop") as [number, string][]);
    const byName = "SELECT s.name, COUNT(*), SUM(fee) FROM sale JOIN shop s ON s.id = shop_id GROUP BY 1 ORDER BY 1";
    const totals = all(byName);
    const groups = find(["name"]).groups.map(({ rows: [first, ...others] }) => ({ keep: first?.key ?? [], others: others.map((r) => r.key) }));
    const { merged, number } = merge(merging(groups));
    expect(merged.groups + merged.refused.length).toBe(groups.length);
    expect(all("PRAGMA foreign_key_check")).toEqual([]);
    expect(all(byName)).toEqual(totals);
    expect(all("SELECT COUNT(*) FROM stamp")).toEqual([[before[2]?.length]]);
    const refused = new Set(merged.refused.map((r) => nameOf.get(Number(r.key))));
    const names = all("SELECT name, COUNT(*) FROM shop GROUP BY 1 HAVING COUNT(*) > 1") as [string, number][];
    expect(new Set(names.map(([name]) => name))).toEqual(refused);
    const after = everything();
    const back = takeBack(number);
    expect(back.left).toBe(0);
    expect(everything()).toEqual(before);
    takeBack(back.number);
    expect(everything()).toEqual(after);
  });
});
