import Database from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Schema } from "@/core/schema/schema";
import { linkEvidence, suggestLinks } from "@/server/jobs/links/evidence";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { generateCompany } from "../../demo/generate";

/* Links found from the data alone, held against the demo company's own foreign keys, which are withheld. */

let db: Database.Database;
let schema: Schema;
beforeAll(() => {
  db = new Database(":memory:");
  generateCompany(db);
  schema = inspectDatabase(db, []);
});
afterAll(() => db.close());

describe("links suggested from the data", () => {
  it("bring every foreign key of the company first for its column, and before any link that is none", () => {
    const keys = schema.links.map((l) => ({ near: `${l.a.table}.${l.a.columns[0]}`, far: `${l.b.table}.${l.b.columns[0]}` }));
    expect(keys.length).toBeGreaterThan(15);
    const suggested = suggestLinks(db, { ...schema, links: [] }, null).map((s) => ({
      near: `${s.spec.a.table}.${s.spec.a.columns[0]}`,
      far: `${s.spec.b.table}.${s.spec.b.columns[0]}`,
      score: s.score,
      found: s.found,
      values: s.values,
    }));
    for (const key of keys)
      expect(
        suggested.find((s) => s.near === key.near),
        key.near,
      ).toMatchObject({ far: key.far });
    const none = suggested.findIndex((s) => !keys.some((k) => k.near === s.near && k.far === s.far));
    const order = suggested.map((s) => `${s.near} = ${s.far} ${s.score.toFixed(2)}`);
    expect(none === -1 || none >= keys.length - 2, order.join("\n")).toBe(true);
    for (const s of suggested) {
      const [table, column] = s.near.split(".");
      expect(s.values).toBe(db.prepare(`SELECT COUNT(DISTINCT "${column}") FROM "${table}"`).pluck().get());
    }
  });
  it("put texts that are found before numbers that happen to be, find a table by its plural, and count what differs in spaces and capitals", () => {
    const shops = new Database(":memory:");
    shops.exec(`CREATE TABLE shops (id INTEGER PRIMARY KEY, "shop name" TEXT UNIQUE);
      CREATE TABLE audit (n INTEGER PRIMARY KEY, checked DATE);
      CREATE TABLE loan (id INTEGER PRIMARY KEY, amount INTEGER);
      CREATE TABLE sale (id INTEGER PRIMARY KEY, shop TEXT, n INTEGER, pieces INTEGER, whither TEXT, entered_by INTEGER);`);
    for (let i = 1; i <= 20; i++) {
      shops.prepare("INSERT INTO shops VALUES (?, ?)").run(i, `Old Shop ${i}`);
      shops.prepare("INSERT INTO audit VALUES (?, '2026-01-01')").run(i);
      shops.prepare("INSERT INTO loan VALUES (?, ?)").run(i, i * 100);
    }
    for (let i = 1; i <= 60; i++)
      shops
        .prepare("INSERT INTO sale VALUES (?, ?, ?, ?, ?, ?)")
        .run(i, i % 20 === 0 ? "OLD SHOP 20 " : `Old Shop ${i % 20}`, (i % 20) + 1, (i % 7) + 1, `Old Shop ${(i % 20) + 1}`, (i % 20) + 1);
    const found = suggestLinks(shops, inspectDatabase(shops, []), "sale");
    const named = found.map((s) => `${s.spec.a.columns[0]} = ${s.spec.b.table}.${s.spec.b.columns[0]}`);
    // A name that says nothing of the table is found by its texts alone; a number that says nothing, among every numbered key.
    expect(named.slice(0, 2)).toEqual(["shop = shops.shop name", "whither = shops.shop name"]);
    expect(named.slice(2).sort()).toEqual(["audit.n", "loan.id", "sale.id", "shops.id"].map((key) => `entered_by = ${key}`));
    expect(found[0]).toMatchObject({ values: 20, found: 19, alike: 1 });
    const evidence = linkEvidence(shops, found[0]?.spec as never);
    expect([evidence.a.missed, evidence.b.missed]).toEqual([["OLD SHOP 20 "], ["Old Shop 20"]]);
    shops.close();
  });
  it("say nothing of links that are there already", () => {
    const there = new Set(schema.links.map((l) => `${l.a.table}.${l.a.columns[0]} ${l.b.table}.${l.b.columns[0]}`));
    for (const s of suggestLinks(db, schema, "consignment"))
      expect(there.has(`${s.spec.a.table}.${s.spec.a.columns[0]} ${s.spec.b.table}.${s.spec.b.columns[0]}`)).toBe(false);
  });
});

describe("what a link would find", () => {
  const one = (text: string) => Number(db.prepare(text).pluck().get());
  it("is counted on both sides: found, not found, found twice", () => {
    const spec = {
      version: 1 as const,
      a: { table: "agent_manifest", columns: ["Goods code"], name: "manifests" },
      b: { table: "commodity", columns: ["code"], name: "commodity" },
      operators: ["is" as const],
    };
    const evidence = linkEvidence(db, spec);
    const found = one('SELECT COUNT(*) FROM agent_manifest WHERE "Goods code" IN (SELECT code FROM commodity)');
    expect(evidence.a).toEqual({ rows: 210, found, missing: 210 - found, twice: 0, missed: ["??", "LRCH", "WOOL"], others: false });
    expect(evidence.b.twice).toBe(one('SELECT COUNT(*) FROM commodity WHERE (SELECT COUNT(*) FROM agent_manifest WHERE "Goods code" = code) > 1'));
  });
  it("compares by any operator, and a table with itself", () => {
    const spec = {
      version: 1 as const,
      a: { table: "vessel", columns: ["built_year"], name: "younger vessels" },
      b: { table: "vessel", columns: ["built_year"], name: "older vessels" },
      operators: ["greater" as const],
    };
    const evidence = linkEvidence(db, spec);
    expect(evidence.sampled).toBe(true);
    expect(evidence.a.found).toBe(one("SELECT COUNT(*) FROM vessel v WHERE EXISTS (SELECT 1 FROM vessel o WHERE v.built_year > o.built_year)"));
  });
});
