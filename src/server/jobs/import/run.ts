import { createHash } from "node:crypto";
import { rowCleaner } from "@/core/import/clean";
import { type Maker, MISFIT, makerOf } from "@/core/import/make";
import type { ImportSpec } from "@/core/import/spec";
import type { Stored } from "@/core/posting/coerce";
import { quoted } from "@/core/query/dialect/dialect";
import type { Column, Table } from "@/core/schema/schema";
import { TYPE_WORDS } from "@/core/types/valueType";
import { type Entry, EntryWriter } from "@/server/jobs/posting/journal";
import type { NewEntry } from "@/server/jobs/posting/run";
import { createTable, STAGED, stagedTable } from "@/server/jobs/posting/stage";
import { encodeImage } from "@/server/jobs/posting/target";
import { type Connection, tableSql } from "@/server/source/connection";
import { JobFailure } from "@/server/source/failures";
import { isServer } from "@/server/source/postgres/address";
import { sessionOf } from "@/server/source/postgres/session";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { abandonStage, openStage, openWriter } from "@/server/source/sqlite/writers";
import { CopiedRows } from "./copied";
import { KeyedRows, PlainRows, type TakenRows } from "./keyed";
import { readRecords } from "./records";
import { hasHeading } from "./scan";

/** `leftOut` are rows that were skipped for a value that does not fit, or for a key that another row has. */
export type Imported = { rows: number; leftOut: number; misfits: number; table: Table; entry: Entry | null };

/** Changed pages a file may fill before they are written: about 160 MB, which a million rows seldom need. */
const SPILL_PAGES = 40_000;

/**
 * Takes a file's rows into a new table of the database, or stages them for a posting: all of them or none.
 * @param report takes how far it is, 0 to 1
 * @throws JobFailure "fileRefused" where the file will not do, "importRefused" where the table's name or its key will not
 */
export async function importFile(
  path: string,
  spec: ImportSpec,
  into: { kind: "table"; database: string; entry: NewEntry } | { kind: "stage"; path: string },
  report: (share: number) => void,
): Promise<Imported> {
  if (into.kind === "table" && isServer(into.database)) return importToServer(path, spec, into, report);
  const table = targetTable(spec);
  const db = into.kind === "table" ? openWriter(into.database) : openStage(into.path);
  if (into.kind === "table") db.pragma(`cache_spill = ${SPILL_PAGES}`);
  try {
    db.exec("BEGIN IMMEDIATE");
    const { key, doubled = "refuse" } = spec.into.kind === "table" ? spec.into : { key: null };
    createTarget(db, table, key);
    const names = table.columns.map((c) => c.name);
    const taken = key === null ? new PlainRows(db, table.name, names.length) : new KeyedRows(db, table.name, names, { key, doubled });
    const counts = await fill(taken, path, spec, table, report);
    taken.finish();
    const entry = into.kind === "table" ? journal(db, table, counts.rows, into.entry) : null;
    db.exec("COMMIT");
    const columns = table.columns.map((c, i) => ({ ...c, misfits: spec.misfits === "keep" ? (counts.byColumn[i] ?? 0) : 0 }));
    return { rows: counts.rows, leftOut: counts.leftOut, misfits: counts.misfits, table: { ...table, columns, rows: counts.rows }, entry };
  } catch (error) {
    if (into.kind === "stage") abandonStage(db, into.path);
    else if (db.inTransaction) db.exec("ROLLBACK");
    throw error;
  } finally {
    db.close();
  }
}

/** The same into a database on a server, whose columns take what their types say and nothing else. */
function importToServer(
  path: string,
  spec: ImportSpec,
  { database, entry }: { database: string; entry: NewEntry },
  report: (share: number) => void,
): Promise<Imported> {
  const made = targetTable(spec);
  const table: Table = { ...made, columns: made.columns.map((c) => ({ ...c, storage: c.type.kind === "decimal" ? "numeric" : "plain" })) };
  const { key, doubled = "refuse" } = spec.into.kind === "table" ? spec.into : { key: null };
  return sessionOf(database).writingLong(async (db) => {
    if (db.prepare("SELECT to_regclass(?) IS NOT NULL").pluck().get(tableSql(db, table.name)) === 1 || /^next_ledger/i.test(table.name)) throw nameTaken(table);
    const rows = new CopiedRows(db, table, { key, doubled });
    const counts = await fill(rows, path, spec, table, report, true);
    rows.finish();
    return {
      rows: counts.rows,
      leftOut: counts.leftOut,
      misfits: counts.misfits,
      table: { ...table, rows: counts.rows },
      entry: journal(db, table, counts.rows, entry),
    };
  });
}

const nameTaken = (table: Table) => new JobFailure("importRefused", `the table name “${table.name}” is already used or reserved; choose another`);

function targetTable(spec: ImportSpec): Table {
  const made = stagedTable(spec.columns.filter((c) => !c.left).map((c) => ({ heading: c.name, type: c.type })));
  if (made.columns.length === 0) throw new JobFailure("importRefused", "all columns are excluded; include at least one");
  return spec.into.kind === "table" ? { ...made, name: spec.into.name, label: spec.into.name } : { ...made, name: STAGED };
}

function createTarget(db: FileDatabase, table: Table, key: string | null): void {
  if (db.prepare("SELECT 1 FROM sqlite_schema WHERE lower(name) = lower(?)").get(table.name) || /^(sqlite_|next_ledger_)/i.test(table.name))
    throw nameTaken(table);
  db.exec(createTable(table.name, table.columns, key ? `, PRIMARY KEY (${quoted(key)})` : ""));
}

type Counts = { rows: number; leftOut: number; misfits: number; byColumn: number[] };

/** @param typed its columns take no values of other types */
async function fill(into: TakenRows, path: string, spec: ImportSpec, table: Table, report: (share: number) => void, typed = false): Promise<Counts> {
  const kept = spec.columns.flatMap((c, at) => (c.left ? [] : [{ at, dates: c.dates, affix: c.affix }]));
  const makers = table.columns.map((column, i) => makerOf(column, { dates: "ymd", ...kept[i] }, spec.format.kind === "delimited" && spec.format.comma));
  const counts: Counts = { rows: 0, leftOut: 0, misfits: 0, byColumn: table.columns.map(() => 0) };
  const clean = rowCleaner(spec.columns.map((c) => c.clean));
  const seen = spec.once ? new Set<string>() : null;
  const row: Stored[] = new Array(kept.length);
  let n = 0;
  let skip = hasHeading(spec.format);
  for await (const { records, share } of readRecords(path, spec.format)) {
    for (const record of records) {
      if (skip) {
        skip = false;
        continue;
      }
      n++;
      const values = clean(record);
      let fits = true;
      for (let i = 0; i < kept.length; i++) {
        const source = values[(kept[i] as { at: number }).at] ?? "";
        const made = (makers[i] as Maker)(source);
        if (made !== MISFIT) row[i] = made;
        else {
          fits = false;
          counts.misfits++;
          counts.byColumn[i] = (counts.byColumn[i] ?? 0) + 1;
          const column = table.columns[i] as Column;
          if (typed && spec.misfits === "keep") throw cannotKeep(source, column, n);
          row[i] = spec.misfits === "keep" ? source : null;
        }
      }
      const taken = (fits || spec.misfits !== "leaveOut") && isFirst(seen, row) && into.add(row, n);
      if (taken) counts.rows++;
      else counts.leftOut++;
    }
    report(share);
  }
  return counts;
}

/** A value that is not of its column's type, of a server that would not keep it. */
const cannotKeep = (source: string, { label, type }: Column, n: number) =>
  new JobFailure(
    "importRefused",
    `row ${n}: “${source.slice(0, 40)}” in ${label} is not a ${TYPE_WORDS[type.kind]}, and the database server keeps no other values in such a column. Leave invalid values empty, or skip their rows`,
  );

/** Whether no row before had the same values, where that is asked; of a row its digest is remembered. */
function isFirst(seen: Set<string> | null, row: Stored[]): boolean {
  if (!seen) return true;
  const digest = createHash("sha1").update(encodeImage(row)).digest("base64");
  if (seen.has(digest)) return false;
  seen.add(digest);
  return true;
}

function journal(db: Connection, table: Table, rows: number, entry: NewEntry): Entry {
  const writer = new EntryWriter(db, { ...entry, columns: table.columns.map((c) => c.name) });
  return writer.finishTable(rows);
}
