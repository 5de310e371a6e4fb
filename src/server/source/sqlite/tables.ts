import { quoted } from "@/core/query/dialect/dialect";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { ReadColumn, ReadTable } from "@/core/recount/recount";
import { plainValue, type Value } from "@/core/recount/value";
import { isExact } from "@/core/types/valueType";
import type { FileDatabase } from "@/server/source/sqlite/database";

/** Reads a database's tables plainly, one column beside the other, for the recount (core/recount). */
export const tableReader = (db: FileDatabase): ReadTable =>
  function* (table, columns) {
    const select = columns.map((c) => {
      const name = quoted(c.column);
      if ("stored" in c) return c.stored === "text" ? `CAST(${name} AS TEXT)` : name;
      return sqlite[c.guarded ? "readFitting" : "read"](name, c.type, c.storage);
    });
    const text = `SELECT ${[...select, "1"].join(", ")} FROM ${quoted(table)}`;
    const values = columns.map(readerOf);
    for (const row of db.prepare(text).raw().safeIntegers().iterate() as Iterable<unknown[]>) yield values.map((value, i) => value(row[i]));
  };

function readerOf(column: ReadColumn): (stored: unknown) => Value {
  if ("stored" in column) return plainValue;
  const { type } = column;
  if (isExact(type)) return (v) => (v === null ? null : (v as bigint));
  if (type.kind === "floating") return (v) => (v === null ? null : Number(v));
  if (type.kind === "yesno") return (v) => (v === null ? null : Number(v) === 1);
  return (v) => (v === null ? null : String(v));
}
