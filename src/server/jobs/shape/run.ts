import { quoted } from "@/core/query/dialect/dialect";
import type { Plan } from "@/core/query/plan";
import type { Table } from "@/core/schema/schema";
import { parseCreateTable } from "@/core/shape/createTable";
import { madeSql } from "@/core/shape/reshape";
import type { ShapePlan } from "@/core/shape/shapePlan";
import { type ShapeSurvey, standsInTheWay } from "@/core/shape/survey";
import { type Entry, EntryWriter } from "@/server/jobs/posting/journal";
import type { NewEntry } from "@/server/jobs/posting/run";
import { createTable, queryTable, writeQuery } from "@/server/jobs/posting/stage";
import { writtenColumns } from "@/server/jobs/posting/target";
import { JobFailure } from "@/server/source/failures";
import { sqliteReading } from "@/server/source/read";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { fileStamp } from "@/server/source/sqlite/fileStamp";
import { openReader } from "@/server/source/sqlite/readers";
import { writingFile } from "@/server/source/sqlite/writers";
import { changeShape } from "./change";
import { dropTable } from "./drop";
import { makeBeforehand } from "./makes";
import { writeRecord } from "./record";
import { tableText } from "./schemaTexts";
import { refusedShape, surveyShape } from "./survey";

/** Changed pages a file may fill before they are written: about 160 MB. */
const SPILL_PAGES = 40_000;

/**
 * Changes a table's shape, or makes one, with its entry in the journal, in one transaction.
 * @param digest of the survey that was looked at
 * @param seen the state of the file in which that survey found nothing in the way: in the same state its rows need not be read again
 * @throws JobFailure "changedSince" where it would come to something else by now; "shapeRefused" where it cannot be
 */
export function shapeTable(database: string, plan: ShapePlan, digest: string, entry: NewEntry, seen: string | null = null): Entry {
  return writingFile(database, "commit", (db) => {
    db.pragma(`cache_spill = ${SPILL_PAGES}`);
    const known = seen !== null && fileStamp(database) === seen;
    const made = makeBeforehand(db, plan, entry);
    if (!known) {
      const survey = surveyShape(db, plan, made);
      if (survey.digest !== digest) throw new JobFailure("changedSince");
      if (standsInTheWay(survey, plan)) throw new JobFailure("shapeRefused", survey.refusal ?? "some of its values are invalid");
    }
    const writer = new EntryWriter(db, { ...entry, table: plan.name, columns: plan.columns.filter((c) => !c.column.generated).map((c) => c.column.name) });
    if (plan.how === "make") {
      db.exec(madeSql(plan));
      return writer.finishTable(0);
    }
    const { record, rows } = changeShape(db, plan, writer.number);
    writeRecord(db, writer.number, record);
    return writer.finishShape(rows);
  });
}

/**
 * Makes a table of a query's rows as they are now, with its entry in the journal.
 * @throws JobFailure "shapeRefused" where its name is taken or reserved
 */
export function tableFromQuery(database: string, plan: Plan, name: string, entry: NewEntry): Entry {
  return writingFile(database, "commit", (db) => {
    if (db.prepare("SELECT 1 FROM sqlite_schema WHERE lower(name) = lower(?)").get(name) || /^(sqlite_|next_ledger_)/i.test(name))
      throw new JobFailure("shapeRefused", `the name “${name}” is already used or reserved; choose another`);
    db.pragma(`cache_spill = ${SPILL_PAGES}`);
    const table = { ...queryTable(plan), name };
    db.exec(createTable(name, table.columns));
    const reader = openReader(database);
    try {
      const { rows } = writeQuery(sqliteReading(reader), plan, db, table);
      return new EntryWriter(db, { ...entry, table: name, columns: table.columns.map((c) => c.name) }).finishTable(rows);
    } finally {
      reader.close();
    }
  });
}

/** What a change would come to once what it needs is made; where that cannot be made, why. */
function surveyMaking(db: FileDatabase, plan: ShapePlan): ShapeSurvey {
  try {
    return surveyShape(db, plan, makeBeforehand(db, plan, null));
  } catch (error) {
    if (error instanceof JobFailure && error.code === "shapeRefused") return refusedShape(error.particulars);
    throw error;
  }
}

/** What a change would come to, with the state of the file in which it was looked at. */
export function surveyIn(database: string, db: FileDatabase, plan: ShapePlan): ShapeSurvey & { state: string } {
  const state = fileStamp(database);
  // What is made for it, and what formulas come to, is written and taken back.
  if (plan.makes.length > 0 || plan.worked) return { ...writingFile(database, "rollback", (writer) => surveyMaking(writer, plan)), state };
  return { ...surveyShape(db, plan), state };
}

/** Drops a table, kept under its entry in the journal. */
export function dropWhole(database: string, table: Table, entry: NewEntry): Entry {
  return writingFile(database, "commit", (db) => {
    const writer = new EntryWriter(db, { ...entry, columns: writtenColumns(table).map((c) => c.name) });
    const rows = Number(
      db
        .prepare(`SELECT COUNT(*) FROM ${quoted(table.name)}`)
        .pluck()
        .get(),
    );
    writeRecord(db, writer.number, dropTable(db, table, writer.number));
    return writer.finishShape(0, rows);
  });
}

/** What a table's statement says, and which names are taken. */
export type ShapeNow = { sql: string | null; taken: string[] };

export function shapeNow(db: Parameters<typeof tableText>[0], table: string | null): ShapeNow {
  const sql = table === null ? null : tableText(db, table);
  if (table !== null && (sql === null || !parseCreateTable(sql)))
    throw new JobFailure("shapeRefused", "this table is not an ordinary one, so its columns cannot be changed");
  const taken = db.prepare("SELECT name FROM sqlite_schema WHERE type IN ('table', 'view', 'index') ORDER BY name").pluck().all() as string[];
  return { sql, taken };
}
