import { join } from "node:path";
import Database from "better-sqlite3";
import { EVERY_ENTRY } from "../src/core/posting/journalFind";
import { originOfTable, resolvePosting } from "../src/core/posting/plan";
import { tidyPosting } from "../src/core/posting/tidy";
import { type Column, findColumn, findTable, type Table } from "../src/core/schema/schema";
import { usualDay } from "../src/core/types/calendar";
import { EntryWriter } from "../src/server/jobs/posting/journal";
import { findEntries, peopleIn } from "../src/server/jobs/posting/journalFind";
import { post, previewPosting } from "../src/server/jobs/posting/run";
import { inspectDatabase } from "../src/server/source/sqlite/inspect";
import { median, ms, report, timed } from "./measure";

/* A journal of 1,000,000 entries opened and searched; a text replaced in 1,000,000 rows, beside the bare update. */

const entry = { at: "2026-11-23T08:00:00Z", by: "bench", kind: "posting" as const, name: "a posting", brief: "", table: "t", columns: ["id"] };

async function measureFinding(folder: string): Promise<void> {
  const db = new Database(join(folder, "journal.sqlite"));
  db.exec("PRAGMA journal_mode = WAL; PRAGMA synchronous = OFF; CREATE TABLE t (id INTEGER PRIMARY KEY)");
  new EntryWriter(db, entry).finish(null, { before: null, after: null });
  db.exec(`WITH RECURSIVE n(i) AS (SELECT 2 UNION ALL SELECT i + 1 FROM n WHERE i < 1000000)
    INSERT INTO next_ledger_posting SELECT i, '2026-11-23T08:00:00Z', 'person ' || (i % 20), 'edit', 'entry ' || i, 'Set a value.', 't', '["id"]', '{"add":1,"change":0,"remove":0}', NULL, NULL, NULL, NULL, NULL FROM n`);
  const asked = { zone: "Europe/Paris", hidden: [], before: null, limit: 100 };
  const times = async (find: Partial<typeof EVERY_ENTRY>): Promise<number> => {
    const runs: number[] = [];
    for (let i = 0; i < 5; i++)
      runs.push(
        await timed(() => {
          findEntries(db, { ...asked, find: { ...EVERY_ENTRY, ...find } });
          peopleIn(db);
        }),
      );
    return median(runs);
  };
  report("A journal of 1,000,000 entries opened, with the people in it", ms(await times({})), "300 ms");
  report("  those of one person", ms(await times({ by: "person 7" })), "300 ms");
  report("  one found by its name, the oldest", ms(await times({ text: "entry 2" })), "");
  db.close();
}

async function measureReplacing(folder: string): Promise<void> {
  const path = join(folder, "replace.sqlite");
  const db = new Database(path);
  const rows = "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 1000000) SELECT i, 'Old Street ' || i, i FROM n";
  db.exec(
    `PRAGMA synchronous = OFF; CREATE TABLE t (id INTEGER PRIMARY KEY, name TEXT, n INTEGER); INSERT INTO t ${rows}; CREATE TABLE plain AS SELECT * FROM t; PRAGMA synchronous = FULL`,
  );
  const schema = inspectDatabase(db, []);
  const bare = await timed(() => db.exec("UPDATE plain SET name = REPLACE(name, 'Old', 'New') WHERE name <> REPLACE(name, 'Old', 'New')"));
  db.close();
  const table = findTable(schema, "t") as Table;
  const tidy = { kind: "replace" as const, find: "Old", instead: "New", whole: false };
  const made = resolvePosting(
    tidyPosting(tidy, table, findColumn(table, "name") as Column),
    schema,
    [{ table, origin: originOfTable(table) }],
    usualDay("2026-11-23"),
  );
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  const job = { steps: made.value.map(({ posting: plan, rows: read }) => ({ plan, source: { database: path, rows: read } })), controls: [] };
  let digest = "";
  const looked = await timed(() => {
    digest = previewPosting(path, job, join(folder, "preview.sqlite")).digest;
  });
  const posted = await timed(() => post(path, job, { digest, again: false, entry }));
  report("A text replaced in 1,000,000 rows, looked at ÷ the bare update", `${(looked / bare).toFixed(1)}× (${ms(looked)})`, "3×");
  report("  and posted, journaled ÷ the bare update", `${(posted / bare).toFixed(1)}× (${ms(posted)})`, "3×");
}

export async function measureJournal(folder: string): Promise<void> {
  await measureFinding(folder);
  await measureReplacing(folder);
}
