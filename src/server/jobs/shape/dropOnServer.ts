import { quoted } from "@/core/query/dialect/dialect";
import { qualified, tableName, tableParts } from "@/core/query/dialect/tableName";
import { storedColumns, type Table } from "@/core/schema/schema";
import type { Connection } from "@/server/source/connection";
import { JobFailure } from "@/server/source/failures";
import type { ShapeRecord } from "./record";

/*
 * A table of a server that an import made, let go and taken back: it is moved into the ledger's own schema, and out of it,
 * with its rows, its key and all that belongs to it.
 */

const OWN = "next_ledger";
const kept = (entry: number) => `kept ${entry}`;

function move(db: Connection, from: string, to: string): void {
  const [was, is] = [tableParts(from), tableParts(to)];
  // By a name that nothing else has on the way.
  const between = `moving ${is.table}`;
  db.exec(`ALTER TABLE ${qualified(from)} RENAME TO ${quoted(between)}`);
  db.exec(`ALTER TABLE ${qualified(tableName(was.schema, between))} SET SCHEMA ${quoted(is.schema)}`);
  db.exec(`ALTER TABLE ${qualified(tableName(is.schema, between))} RENAME TO ${quoted(is.table)}`);
}

/** @param entry under which number it is kept; where it is only tried, the transaction is undone anyway */
export function letGoOnServer(db: Connection, table: Table, entry: number | null): ShapeRecord {
  const others = db
    .prepare(
      "SELECT DISTINCT conrelid::regclass::text FROM pg_constraint WHERE contype = 'f' AND confrelid = to_regclass(?) AND conrelid <> confrelid ORDER BY 1",
    )
    .pluck()
    .all(qualified(table.name));
  if (others.length > 0) throw new JobFailure("shapeRefused", `a foreign key of ${others.map((o) => `“${o}”`).join(", ")} leads to it`);
  move(db, table.name, tableName(OWN, kept(entry ?? 0)));
  return {
    before: { name: table.name },
    after: null,
    pairs: storedColumns(table).map((before) => ({ before, after: null, same: false })),
    texts: { before: [], after: [] },
    sequence: null,
    kept: [],
  };
}

/** Makes it stand again. @throws JobFailure "shapeRefused" where its name is taken by now */
export function takeBackOnServer(db: Connection, record: ShapeRecord, entry: number): ShapeRecord {
  const name = record.before?.name ?? "";
  if (db.prepare("SELECT to_regclass(?) IS NOT NULL").pluck().get(qualified(name)) === 1)
    throw new JobFailure("shapeRefused", `the name “${name}” is used again`);
  move(db, tableName(OWN, kept(entry)), name);
  return { ...record, before: null, after: { name }, pairs: record.pairs.map((p) => ({ ...p, before: null, after: p.before })) };
}
