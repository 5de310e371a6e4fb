import { quoted } from "@/core/query/dialect/dialect";
import { storedColumns, type Table } from "@/core/schema/schema";
import { JobFailure } from "@/server/source/failures";
import type { FileDatabase } from "@/server/source/sqlite/database";
import type { ShapeRecord } from "./record";
import { belongings, otherTexts, restoreTexts, schemaFault, schemaTexts } from "./schemaTexts";
import { keptTable } from "./transform";

/** Renames a table by its name alone: whatever else names it is left as it is written. */
export function renameAlone(db: FileDatabase, from: string, to: string): void {
  db.pragma("legacy_alter_table = ON");
  try {
    db.exec(`ALTER TABLE ${quoted(from)} RENAME TO ${quoted(to)}`);
  } finally {
    db.pragma("legacy_alter_table = OFF");
  }
}

/**
 * Drops a table on an open transaction; its rows are kept under an entry's number, so that it can come back whole.
 * @param entry null to keep nothing, where it is only tried
 * @throws JobFailure "shapeRefused" where other tables' keys lead to it, or a view or trigger reads it
 */
export function dropTable(db: FileDatabase, table: Table, entry: number | null): ShapeRecord {
  const texts = schemaTexts(db);
  const fault = schemaFault(db);
  const others = db
    .prepare(
      `SELECT DISTINCT t.name FROM sqlite_schema t, pragma_foreign_key_list(t.name) f
       WHERE t.type = 'table' AND lower(f."table") = lower(?) AND lower(t.name) <> lower(?) ORDER BY 1`,
    )
    .pluck()
    .all(table.name, table.name) as string[];
  if (others.length > 0) throw new JobFailure("shapeRefused", `a foreign key of ${others.map((o) => `“${o}”`).join(", ")} leads to it`);
  for (const { type, name } of belongings(texts, table.name)) db.exec(`DROP ${type} ${quoted(name)}`);
  renameAlone(db, table.name, keptTable(entry ?? 0));
  const now = schemaFault(db);
  if (now !== null && fault === null)
    throw new JobFailure("shapeRefused", `it is used elsewhere in the database (${now.replace(/^error in /, "")}); change that first`);
  return {
    before: { name: table.name },
    after: null,
    pairs: storedColumns(table).map((before) => ({ before, after: null, same: false })),
    texts: { before: otherTexts(texts, schemaTexts(db)), after: [] },
    sequence: null,
    kept: [],
  };
}

/** Makes a dropped table stand again, with all that belonged to it. @throws JobFailure "shapeRefused" where its name is taken by now */
export function undropTable(db: FileDatabase, record: ShapeRecord, entry: number): ShapeRecord {
  const name = record.before?.name ?? "";
  if (db.prepare("SELECT 1 FROM sqlite_schema WHERE lower(name) = lower(?)").get(name))
    throw new JobFailure("shapeRefused", `the name “${name}” is used again`);
  renameAlone(db, keptTable(entry), name);
  restoreTexts(db, record.texts.before, []);
  return {
    ...record,
    before: null,
    after: { name },
    pairs: record.pairs.map((p) => ({ ...p, before: null, after: p.before })),
    texts: { before: [], after: record.texts.before },
  };
}
