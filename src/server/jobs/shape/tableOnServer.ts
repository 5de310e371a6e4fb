import type { Stored } from "@/core/posting/coerce";
import type { Plan } from "@/core/query/plan";
import { decimalText } from "@/core/types/decimal";
import { type Cell, isMisfit, type ValueType } from "@/core/types/valueType";
import { CopiedRows } from "@/server/jobs/import/copied";
import { type Entry, EntryWriter } from "@/server/jobs/posting/journal";
import type { NewEntry } from "@/server/jobs/posting/run";
import { queryTable, stagedValue } from "@/server/jobs/posting/stage";
import { tableSql } from "@/server/source/connection";
import { JobFailure } from "@/server/source/failures";
import { sessionOf } from "@/server/source/postgres/session";

/** A value as a server's column takes it; what is of no such type, as an endless date, is left empty. */
function writtenValue(cell: Cell, type: ValueType): Stored {
  if (cell === null || isMisfit(cell)) return null;
  return type.kind === "decimal" ? decimalText(BigInt(cell), type.scale) : stagedValue(cell, type);
}

/** Makes a table of a query's rows on the server they are read from, of one moment, with its entry in the journal. */
export function tableOnServer(database: string, plan: Plan, name: string, entry: NewEntry): Entry {
  const session = sessionOf(database);
  return session.writing("commit", (db) => {
    const table = { ...queryTable(plan), name };
    if (db.prepare("SELECT to_regclass(?) IS NOT NULL").pluck().get(tableSql(db, name)) === 1)
      throw new JobFailure("shapeRefused", `the name “${name}” is already used or reserved; choose another`);
    const shown = plan.columns.flatMap((c, at) => (c.hidden ? [] : [{ at, type: c.type }]));
    const copied = new CopiedRows(db, table, { key: null, doubled: "refuse" });
    let rows = 0;
    for (const row of session.within({ of: "rows", plan })) {
      rows++;
      copied.add(
        shown.map(({ at, type }) => writtenValue(row[at] ?? null, type)),
        rows,
      );
    }
    copied.finish();
    return new EntryWriter(db, { ...entry, table: name, columns: table.columns.map((c) => c.name) }).finishTable(rows);
  });
}
