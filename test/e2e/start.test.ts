import { spawn } from "node:child_process";
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { request } from "node:http";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Schema } from "@/core/schema/schema";
import { Catalogue } from "@/server/catalogue/catalogue";
import { People } from "@/server/catalogue/people";
import { makeDatabase, temporaryFolder } from "../support/ledger";

/* The command a person starts the ledger with, on a file of their own. */

let place: ReturnType<typeof temporaryFolder>;
beforeEach(() => {
  place = temporaryFolder();
});
afterEach(() => place.remove());

function start(...args: string[]) {
  const child = spawn(process.execPath, ["scripts/start.mjs", ...args], { env: { ...process.env, NEXT_LEDGER_DATA: join(place.folder, "data"), PORT: "0" } });
  let said = "";
  for (const stream of [child.stdout, child.stderr]) stream.on("data", (chunk) => (said += chunk));
  const ended = new Promise<number | null>((done) => child.once("exit", done));
  return { child, ended, said: () => said };
}

describe("npm start -- --database", () => {
  it.each([
    ["a file that is missing", (path: string) => path, "There is no file"],
    [
      "a file that is no database",
      (path: string) => {
        writeFileSync(path, "name,amount\n");
        return path;
      },
      "is not a SQLite database. Choose a file that is.",
    ],
  ])("says in a sentence what is wrong with %s", async (_, make, words) => {
    const run = start("--database", make(join(place.folder, "x.sqlite")));
    expect([await run.ended, run.said()]).toEqual([1, expect.stringContaining(words)]);
  });
  it("says so where there is nothing to open yet, or a word it does not know", async () => {
    const [bare, odd] = [start(), start("--databse", "x")];
    expect([await bare.ended, bare.said()]).toEqual([1, expect.stringContaining("Run “npm run demo”")]);
    expect([await odd.ended, odd.said()]).toEqual([1, expect.stringContaining("npm start -- [--database FILE.sqlite | postgres://user@host:5432/database]")]);
  });

  it("listens beyond this machine only with accounts and under a name, and says what it then needs", async () => {
    const path = join(place.folder, "x.sqlite");
    new Database(path).exec("CREATE TABLE t (id INTEGER PRIMARY KEY)").close();
    const [nameless, open] = [start("--database", path, "--listen", "0.0.0.0"), start("--database", path, "--listen", "0.0.0.0", "--host", "ledger.test")];
    expect([await nameless.ended, nameless.said()]).toEqual([1, expect.stringContaining("--host")]);
    expect([await open.ended, open.said()]).toEqual([1, expect.stringContaining("needs accounts")]);
    const folder = join(place.folder, "data");
    const catalogue = new Catalogue(folder, "src/server/catalogue/migrations");
    await new People(catalogue.db, () => new Date()).create({ login: "o", name: "O", role: "owner", password: "a longer password" });
    catalogue.setSetting("demo", true);
    catalogue.close();
    makeDatabase(join(folder, "business.sqlite"), "CREATE TABLE t (id INTEGER PRIMARY KEY)");
    const run = start("--listen", "0.0.0.0", "--host", "ledger.test");
    try {
      await expect.poll(() => run.said(), { timeout: 30_000 }).toContain("takes HTTPS for https://ledger.test");
      const port = Number(/:(\d+) \(Ctrl C/.exec(run.said())?.[1]);
      const statusOf = (host: string, path: string) =>
        new Promise<number | undefined>((done, fail) =>
          request({ port, host: "127.0.0.1", path, headers: { host } }, (r) => done(r.resume().statusCode))
            .on("error", fail)
            .end(),
        );
      expect(await statusOf("ledger.test", "/queries")).toBe(307);
      expect(await statusOf("ledger.test", "/api/schema")).toBe(401);
      expect(await statusOf("elsewhere.test", "/queries")).toBe(403);
    } finally {
      run.child.kill("SIGTERM");
      await run.ended;
    }
  });

  it("opens real open data (vega-datasets, cars), types it, and answers a grouped question as plain arithmetic does", async () => {
    const cars = JSON.parse(readFileSync(resolve("node_modules/vega-datasets/data/cars.json"), "utf8")) as Record<string, string | number | null>[];
    const path = join(place.folder, "cars.sqlite");
    const db = new Database(path);
    db.exec("CREATE TABLE car (id INTEGER PRIMARY KEY, name TEXT, origin TEXT, year TEXT, power INTEGER, weight INTEGER)");
    const insert = db.prepare("INSERT INTO car (name, origin, year, power, weight) VALUES (?, ?, ?, ?, ?)");
    for (const c of cars) insert.run(c.Name, c.Origin, c.Year, c.Horsepower, c.Weight_in_lbs);
    db.close();
    const run = start("--database", path);
    try {
      for (let i = 0; i < 300 && !/open at/.test(run.said()); i++) await new Promise((done) => setTimeout(done, 100));
      const address = /http:\S+/.exec(run.said())?.[0];
      const schema = (await (await fetch(`${address}/api/schema`)).json()) as Schema;
      expect(schema.tables[0]?.columns.map((c) => c.type.kind)).toEqual(["whole", "text", "text", "date", "whole", "whole"]);
      const field = (column: string) => ({ kind: "field", join: "", column });
      const columns = [
        { id: "o", value: field("origin") },
        { id: "n", value: null, figure: "count" },
        { id: "p", value: field("power"), figure: "total" },
        { id: "g", value: field("power"), figure: "count" },
      ];
      const spec = { version: 1, source: "car", joins: [], conditions: [], grouped: true, columns, order: [], limit: null, parameters: [] };
      const rows = await (
        await fetch(`${address}/api/query/rows`, { method: "POST", body: JSON.stringify({ spec, values: {}, offset: 0, rows: 100 }) })
      ).json();
      const expected = [...new Set(cars.map((c) => c.Origin))].sort().map((origin) => {
        const of = cars.filter((c) => c.Origin === origin);
        const powers = of.map((c) => c.Horsepower).filter((p) => p !== null);
        return [origin, of.length, powers.reduce((a: number, p) => a + Number(p), 0), powers.length];
      });
      expect(expected.length).toBe(3);
      expect(rows).toEqual(expected);
    } finally {
      run.child.kill("SIGTERM");
      await run.ended;
    }
  });
});

describe("npm run backup", () => {
  it("copies both databases and the files while they are written, and refuses a folder that has a copy", async () => {
    const data = join(place.folder, "data");
    const catalogue = new Catalogue(data, resolve("src/server/catalogue/migrations"));
    makeDatabase(join(data, "business.sqlite"), "CREATE TABLE sale (id INTEGER PRIMARY KEY, n INTEGER); INSERT INTO sale VALUES (1, 1)");
    mkdirSync(join(data, "outbox"));
    writeFileSync(join(data, "outbox", "a.csv"), "a");
    catalogue.create("query", "Kept", {}, "kept");
    const backup = (target: string) =>
      new Promise<{ code: number | null; said: string }>((done) => {
        const child = spawn(process.execPath, ["scripts/backup.mjs", target], { env: { ...process.env, NEXT_LEDGER_DATA: data } });
        let said = "";
        for (const stream of [child.stdout, child.stderr]) stream.on("data", (chunk) => (said += chunk));
        child.once("exit", (code) => done({ code, said }));
      });
    const target = join(place.folder, "copy");
    const running = backup(target);
    // Written meanwhile: it is in the copy, or it is not.
    for (let i = 0; i < 20; i++) catalogue.create("query", `Later ${i}`, {});
    expect((await running).code).toBe(0);
    const copy = new Catalogue(target, resolve("src/server/catalogue/migrations"));
    expect(copy.get("kept")?.name).toBe("Kept");
    copy.close();
    const db = new Database(join(target, "business.sqlite"), { readonly: true });
    expect(db.prepare("SELECT n FROM sale").pluck().get()).toBe(1);
    expect(db.pragma("integrity_check", { simple: true })).toBe("ok");
    db.close();
    expect(readFileSync(join(target, "outbox", "a.csv"), "utf8")).toBe("a");
    const again = await backup(target);
    expect([again.code, again.said]).toEqual([1, expect.stringContaining("has a copy already")]);
    catalogue.close();
  });
});
