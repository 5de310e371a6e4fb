import { existsSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { afterAll, beforeAll, expect, it } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import type { CopyAnswer } from "@/server/services/workspace/copy";
import { makeDatabase, temporaryFolder } from "../support/ledger";
import { type Application, openApplication, post } from "../support/server";

/* A database with a large table: its columnar copy answers, follows what is written here, and is never behind what others write. */

const place = temporaryFolder();
const database = join(place.folder, "shops.sqlite");
let app: Application;
beforeAll(async () => {
  makeDatabase(
    database,
    `CREATE TABLE shop (id INTEGER PRIMARY KEY, name TEXT NOT NULL, region TEXT NOT NULL);
     CREATE TABLE sale (id INTEGER PRIMARY KEY, shop_id INTEGER NOT NULL REFERENCES shop(id), pieces INTEGER NOT NULL);
     WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 20) INSERT INTO shop SELECT i, 'Shop ' || i, 'Region ' || (i % 4) FROM n;
     WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 60000) INSERT INTO sale SELECT i, 1 + i % 20, i % 9 FROM n;`,
  );
  app = await openApplication({ database });
});
afterAll(async () => {
  await app?.close();
  place.remove();
});

const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const spec = {
  ...emptyQuery("sale"),
  joins: [{ id: "s", from: "", link: "sale.shop_id", toward: "b", way: "keep" }],
  grouped: true,
  columns: [
    { id: "r", value: field("region", "s") },
    { id: "t", value: field("pieces"), figure: "total" },
  ],
};
const COPY = "Calculated in the columnar copy, recounted in the database.";
const DATABASE = "Calculated and recounted in the database.";

async function copied(): Promise<void> {
  for (;;) {
    const { state, upToDate } = (await (await app.fetch("/api/copy")).json()) as CopyAnswer;
    if (state?.tables.length === 2 && upToDate) return;
    await new Promise((done) => setTimeout(done, 100));
  }
}

it("is answered from the copy, also after a value is changed; what others write is never missed; the copy is turned off", async () => {
  const { id } = (await (await app.fetch("/api/objects", post({ kind: "query", name: "Pieces by region", spec }))).json()) as { id: string };
  const total = () => Number(app.one("SELECT SUM(pieces) FROM sale")[0]).toLocaleString("en-GB");
  await copied();
  const desk = await app.page(`/queries/${id}`);
  await desk.reads("aside", COPY);
  await desk.reads("aside", "Proved.");
  await desk.reads("[role=grid]", total());

  const before = total();
  const change = { kind: "block", rows: [{ key: [5], cells: [{ column: "pieces", text: "100", was: "5" }] }] };
  expect((await app.fetch("/api/tables/edit", post({ table: "sale", change }))).status).toBe(200);
  await copied();
  await desk.open(`/queries/${id}`);
  await desk.reads("aside", COPY);
  await desk.reads("aside", "Proved.");
  expect(total()).not.toBe(before);
  await desk.reads("[role=grid]", total());

  const other = new Database(database);
  other.exec("UPDATE sale SET pieces = pieces + 1 WHERE id % 3 = 0; INSERT INTO sale VALUES (60001, 1, 7)");
  other.close();
  await desk.open(`/queries/${id}`);
  await desk.reads("aside", "Proved.");
  await desk.reads("[role=grid]", total());
  await copied();

  await desk.open("/settings");
  await desk.reads("main", /2 tables, 60,021 rows, \d+ MB: up to date/);
  await desk.click("Turn off and delete");
  await desk.reads("main", "Off. The database answers every query.");
  expect(existsSync(join(app.folder, "columnar"))).toBe(false);
  await desk.open(`/queries/${id}`);
  await desk.reads("aside", DATABASE);
  await desk.reads("[role=grid]", total());
  expect(desk.complaints).toEqual([]);
});

it("says that a database is being opened, and how far it is, in the place of a page that would keep one waiting", async () => {
  const slow = join(place.folder, "slow.sqlite");
  // A view that takes some seconds to be looked through.
  makeDatabase(
    slow,
    "CREATE TABLE port (id INTEGER PRIMARY KEY); CREATE VIEW counted AS WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 30000000) SELECT COUNT(*) AS rows FROM n",
  );
  const other = await openApplication({ database: slow });
  try {
    const page = await other.browser.newPage();
    void page.goto(`${other.address}/tables`).catch(() => {});
    await page.waitForFunction(() => document.querySelector("[role=progressbar]") && document.querySelector("h1")?.textContent === "Opening the database");
    await page.waitForFunction(() => document.querySelector("h1")?.textContent === "Tables", { timeout: 60_000 });
  } finally {
    await other.close();
  }
});

it("shows a large table's first rows by types of a sample, says that, and what all values showed otherwise; figures leave out what does not fit meanwhile", async () => {
  const large = join(place.folder, "large.sqlite");
  const more = Array.from({ length: 14 }, (_, i) => `w${i}`);
  // “lane” is a whole number in all rows but those that lie between the places of the sample.
  makeDatabase(
    large,
    `CREATE TABLE parcel (id INTEGER PRIMARY KEY, lane, weight INTEGER, ${more.map((w) => `${w} TEXT`).join(", ")});
     WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 180000)
       INSERT INTO parcel SELECT i, CASE i WHEN 110000 THEN 'by hand' ELSE i % 7 END, CASE i WHEN 110001 THEN 'light' ELSE i % 5 END, ${more.map((_, w) => `'text ${w} ' || i`).join(", ")} FROM n;
     CREATE VIEW together AS SELECT a.id, b.id AS other FROM parcel a, parcel b WHERE b.id <= 60 AND a.id % 2 = 0`,
  );
  const other = await openApplication({ database: large });
  try {
    const query = {
      ...emptyQuery("parcel"),
      columns: ["id", "lane", "weight"].map((name) => ({ id: name, value: field(name), ...(name === "id" ? {} : { footing: "total" }) })),
    };
    const { id } = (await (await other.fetch("/api/objects", post({ kind: "query", name: "Parcels", spec: query }))).json()) as { id: string };
    const desk = await other.page("/tables/parcel");
    await desk.reads("[role=status]", /^Column types come from a sample of the rows so far\. \d+% of all values read\.$/);
    await desk.reads("[role=grid]", "text 3 7");
    await desk.reads("[role=status]", "All values have been read. “lane” of “parcel” has the type floating number, not whole number as in the sample.");
    expect(await desk.text("main")).not.toContain("no floating number");
    await desk.click("Update this page");
    await desk.reads("main", "1 value of “lane” is no floating number");
    await desk.open(`/queries/${id}`);
    await desk.reads("aside", "Proved.");
    await desk.reads("main", "2 values not of the column’s type: shown as stored, not totalled");
    await desk.reads("[role=grid]", Number(other.one("SELECT SUM(lane) FROM parcel WHERE typeof(lane) = 'integer'")[0]).toLocaleString("en-GB"));
    // The shape is kept: opened again, nothing is from a sample.
    expect(await (await other.fetch("/api/opening")).json()).toMatchObject({ share: null, look: { share: null } });
  } finally {
    await other.close();
  }
});
