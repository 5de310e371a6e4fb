import { isWhole } from "@/core/people/rules";
import { EVERY_ENTRY, type JournalExport, type JournalFind } from "@/core/posting/journalFind";
import type { Entry } from "@/server/jobs/posting/journal";
import type { JournalPage, JournalQuestion } from "@/server/jobs/posting/journalFind";
import type { Workspace } from "@/server/services/workspace/workspace";
import { exportTable, type RowFile } from "./exportTable";
import { TIME_LIMIT_MS } from "./source";

type Caller = { client: string; signal?: AbortSignal | undefined };

/** How many entries are listed at once. */
const LISTED = 100;

/** Of tables of which the one who works here does not see every row nothing is told: what an entry did tells of rows. */
async function question(ws: Workspace, find: JournalFind, before: number | null): Promise<Omit<JournalQuestion, "limit">> {
  const schema = await ws.schema();
  return { find, zone: ws.locale.zone, hidden: schema.tables.filter((t) => !isWhole(schema, t.name)).map((t) => t.name), before };
}

/** The journal, the latest entries first. @param before the entry that those of the page are older than */
export async function journalOf(ws: Workspace, caller: Caller, find = EVERY_ENTRY, before: number | null = null): Promise<JournalPage> {
  return ws.engine.run<"journal">({ kind: "journal", database: ws.database, ...(await question(ws, find, before)), limit: LISTED }, caller);
}

/** Everybody who made an entry. */
export const journalPeople = (ws: Workspace, caller: Caller): Promise<string[]> =>
  ws.engine.run<"journalPeople">({ kind: "journalPeople", database: ws.database }, caller);

/** One entry, however old; null where there is none that may be seen. */
export async function entryOf(ws: Workspace, number: number, caller: Caller): Promise<Entry | null> {
  const [schema, entry] = await Promise.all([ws.schema(), ws.engine.run<"journalEntry">({ kind: "journalEntry", database: ws.database, number }, caller)]);
  return entry && [entry.table, ...entry.others].every((table) => isWhole(schema, table)) ? entry : null;
}

/** What an entry did is told, and taken back, only where all rows of its tables may be seen. */
export async function needWholeEntry(ws: Workspace, number: number, caller: Caller): Promise<void> {
  const entry = await ws.engine.run<"journalEntry">({ kind: "journalEntry", database: ws.database, number }, caller);
  if (!entry) return;
  const tables = [entry.table, ...entry.others];
  await ws.needWhole(tables);
  for (const table of tables) await ws.needUnread(table, null);
}

/** Writes the entries that are looked for, or every value that they changed, into a file. */
export async function writeJournal(ws: Workspace, { find, what }: { find: JournalFind; what: JournalExport }, file: RowFile, caller: Caller) {
  const options = { ...caller, timeLimitMs: TIME_LIMIT_MS };
  const asked = { kind: "journalTable" as const, database: ws.database, schema: await ws.schema(), what, question: await question(ws, find, null) };
  return exportTable(ws, (into) => ws.engine.run<"journalTable">({ ...asked, into }, options), file, options);
}
