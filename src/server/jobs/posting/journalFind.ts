import type { JournalFind } from "@/core/posting/journalFind";
import { addDays, dayInZone } from "@/core/types/date";
import { namesBefore, namesNow } from "@/server/jobs/shape/record";
import { amongSql, type Connection, isOnServer } from "@/server/source/connection";
import { type Entry, entriesOf, hasJournal, hasParts } from "./journal";

/** How the journal is searched: for what, up to which entry back, and of which tables nothing is told. */
export type JournalQuestion = { find: JournalFind; zone: string; hidden: string[]; before: number | null; limit: number };
export type JournalPage = { entries: Entry[]; more: boolean };

/** The entries that are looked for, the latest first; and whether there are older ones. */
export function findEntries(db: Connection, question: JournalQuestion): JournalPage {
  const entries: Entry[] = [];
  for (const entry of everyEntry(db, question)) {
    if (entries.length === question.limit) return { entries, more: true };
    entries.push(entry);
  }
  return { entries, more: false };
}

/** All entries that are looked for, one after the other, the latest first. */
export function* everyEntry(db: Connection, { find, zone, hidden, before }: Omit<JournalQuestion, "limit">): Generator<Entry> {
  if (!hasJournal(db)) return;
  const { sql, values } = conditionsOf(db, find, before);
  const unseen = new Set(hidden);
  const nameNow = namesNow(db);
  for (const entry of entriesOf(db, `${sql} ORDER BY p.number DESC`, values, nameNow)) {
    const tables = [entry.table, ...entry.others];
    if (tables.some((t) => unseen.has(t)) || (find.table !== null && !tables.includes(find.table))) continue;
    const day = dayInZone(new Date(entry.at), zone);
    if ((find.from === null || day >= find.from) && (find.to === null || day <= find.to)) yield entry;
  }
}

/** What SQL can tell of it: days are a little wider there than those of a zone, and tables have the names they had. */
function conditionsOf(db: Connection, { table, by, from, to, text }: JournalFind, before: number | null): { sql: string; values: unknown[] } {
  const parts: [string, unknown[]][] = [];
  if (before !== null) parts.push(["p.number < ?", [before]]);
  if (by !== null) parts.push(["p.by = ?", [by]]);
  if (from !== null) parts.push(["p.at >= ?", [addDays(from, -1)]]);
  if (to !== null) parts.push(["p.at < ?", [addDays(to, 2)]]);
  if (table !== null) {
    const names = namesBefore(db, table);
    const among = amongSql(names);
    const part = ` OR EXISTS (SELECT 1 FROM next_ledger_part o WHERE o.posting = p.number AND o.tbl ${among})`;
    parts.push(hasParts(db) ? [`(p.tbl ${among}${part})`, [...names, ...names]] : [`p.tbl ${among}`, names]);
  }
  const sought = text.trim();
  if (sought !== "") {
    const like = `%${sought.replace(/[\\%_]/g, "\\$&")}%`;
    // Values are kept as JSON has them.
    const inside = `%${JSON.stringify(sought)
      .slice(1, -1)
      .replace(/[\\%_]/g, "\\$&")}%`;
    // As SQLite's LIKE, whatever the letter case.
    const alike = `${isOnServer(db) ? "ILIKE" : "LIKE"} ? ESCAPE '\\'`;
    const changed = `EXISTS (SELECT 1 FROM next_ledger_change c WHERE c.posting = p.number AND (c.before ${alike} OR c.after ${alike}))`;
    parts.push([
      `(p.number = ? OR p.name ${alike} OR p.brief ${alike} OR ${changed})`,
      [/^#?\d+$/.test(sought) ? Number(sought.replace("#", "")) : null, like, like, inside, inside],
    ]);
  }
  return { sql: parts.length === 0 ? "" : `WHERE ${parts.map(([sql]) => sql).join(" AND ")}`, values: parts.flatMap(([, values]) => values) };
}

/** Everybody who made an entry, by name: each is found by the index, however many entries there are. */
export function peopleIn(db: Connection): string[] {
  if (!hasJournal(db)) return [];
  return db
    .prepare(
      `WITH RECURSIVE person(by) AS (
         SELECT MIN(by) FROM next_ledger_posting
         UNION ALL SELECT (SELECT MIN(p.by) FROM next_ledger_posting p WHERE p.by > person.by) FROM person WHERE person.by IS NOT NULL)
       SELECT by FROM person WHERE by IS NOT NULL`,
    )
    .pluck()
    .all() as string[];
}
