import { join } from "node:path";
import Database from "better-sqlite3";
import { seeded } from "../demo/random";
import { firstChoices, mergedGroups } from "../src/core/duplicates/merging";
import { findTable, type Table } from "../src/core/schema/schema";
import { findDuplicates } from "../src/server/jobs/duplicates/find";
import { mergeRows, previewMerge } from "../src/server/jobs/duplicates/merge";
import { linksInto } from "../src/server/services/duplicates/service";
import { inspectDatabase } from "../src/server/source/sqlite/inspect";
import { ms, report, timed } from "./measure";

/* Duplicates among 100,000 names, a tenth of them written otherwise or with a slip; 300,000 rows lead to them. */

const SYLLABLES = ["ar", "bel", "cor", "dun", "el", "fen", "gar", "hol", "in", "jor", "kel", "lor", "mar", "nes", "or", "pel", "quin", "ros", "sk", "tar"];
const entry = { at: "2026-12-01T08:00:00Z", by: "bench", kind: "edit" as const, name: "merged", brief: "", table: "dealer" };

export async function measureDuplicates(folder: string): Promise<void> {
  const path = join(folder, "duplicates.sqlite");
  const db = new Database(path);
  db.exec(`PRAGMA synchronous = OFF; CREATE TABLE dealer (id INTEGER PRIMARY KEY, name TEXT, town TEXT);
    CREATE TABLE sale (id INTEGER PRIMARY KEY, dealer_id INTEGER REFERENCES dealer(id)); CREATE INDEX sale_dealer ON sale (dealer_id)`);
  const random = seeded(3).next;
  const pick = <T>(list: T[]): T => list[Math.floor(random() * list.length)] as T;
  const word = () => Array.from({ length: 2 + Math.floor(random() * 3) }, () => pick(SYLLABLES)).join("");
  const names: string[] = [];
  for (let i = 0; i < 100_000; i++) {
    const old = names[Math.floor(random() * names.length)];
    if (i % 10 !== 0 || !old) names.push(`${word()} ${word()}`);
    else names.push(i % 20 === 0 ? old.split(" ").reverse().join(", ").toUpperCase() : old.slice(0, 4) + old.slice(5));
  }
  const insert = db.prepare("INSERT INTO dealer (name, town) VALUES (?, ?)");
  db.transaction(() => names.forEach((name, i) => void insert.run(name, i % 3 === 0 ? null : "town")))();
  db.exec("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 300000) INSERT INTO sale SELECT i, 1 + (i * 7919) % 100000 FROM n");
  const schema = inspectDatabase(db, []);
  const table = findTable(schema, "dealer") as Table;
  const links = linksInto(schema, "dealer");
  const question = (near: boolean) => ({ columns: ["name"], near });
  const find = (near: boolean) =>
    findDuplicates(
      db,
      table,
      links.map(({ link }) => link),
      question(near),
    );
  let found = find(false);
  report("Duplicates among 100,000 names, past case and word order", ms(await timed(() => (found = find(false)))), "5 s");
  report("  and by one letter", ms(await timed(() => find(true))), "5 s");
  const merging = { table, links, groups: mergedGroups(found.groups, firstChoices(found)), fill: true };
  let digest = "";
  const looked = await timed(() => {
    digest = previewMerge(path, merging).digest;
  });
  report(
    `  the first ${found.groups.length} of ${found.all.groups} groups merged, looked at before`,
    ms(looked + (await timed(() => mergeRows(path, merging, digest, entry)))),
    "",
  );
  db.close();
}
