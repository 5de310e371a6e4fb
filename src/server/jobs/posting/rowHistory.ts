import { cellOfStored, coerce } from "@/core/posting/coerce";
import { quoted } from "@/core/query/dialect/dialect";
import type { Table } from "@/core/schema/schema";
import { type Cell, text } from "@/core/types/valueType";
import { namesBefore, namesNow } from "@/server/jobs/shape/record";
import { amongSql, type Connection, tableSql } from "@/server/source/connection";
import { type ChangeKind, columnsOf, hasJournal } from "./journal";
import { decodeImage, encodeImage, type Image, rowIdentity } from "./target";

/** What the journal has of one row: who did what to it in which entry, and the values that were others before. */
export type RowChange = {
  entry: number;
  at: string;
  by: string;
  name: string;
  kind: ChangeKind;
  reversed: boolean;
  fields: { column: string; before: Cell; after: Cell }[];
};

/** How many changes are told, the latest first. */
const MOST = 200;

type Row = {
  posting: number;
  tbl: string;
  kind: ChangeKind;
  before: string | null;
  after: string | null;
  at: string;
  by: string;
  name: string;
  columns: string;
  reversed_by: number | null;
};

/**
 * The changes of a row, the latest first.
 * @param key the values of its key, in plain digits and ISO dates
 * @returns nothing where there is no such row, or no change of it was made here
 */
export function rowHistory(db: Connection, table: Table, key: string[]): RowChange[] {
  const row = nameOf(db, table, key);
  if (row === null || !hasJournal(db)) return [];
  const names = namesBefore(db, table.name);
  const changes = db
    .prepare(
      `SELECT c.posting, c.tbl, c.kind, c.before, c.after, p.at, p.by, p.name, ${columnsOf(db)} AS columns, p.reversed_by
       FROM next_ledger_change c JOIN next_ledger_posting p ON p.number = c.posting
       WHERE c.row = ? AND c.tbl ${amongSql(names)} ORDER BY c.posting DESC, c.seq DESC LIMIT ${MOST}`,
    )
    .all(row, ...names) as Row[];
  const now = namesNow(db);
  return changes
    .filter((c) => now(c.tbl, c.posting) === table.name)
    .map(({ posting, kind, at, by, name, reversed_by, before, after, columns }) => ({
      entry: posting,
      at,
      by,
      name,
      kind,
      reversed: reversed_by !== null,
      fields: kind === "change" && before !== null && after !== null ? differing(table, JSON.parse(columns), decodeImage(before), decodeImage(after)) : [],
    }));
}

/** A row's name in the journal, by its key; null where it does not exist. */
function nameOf(db: Connection, table: Table, key: string[]): string | null {
  const columns = table.key.flatMap((name) => table.columns.find((c) => c.name === name) ?? []);
  const values = columns.map((c, i) => coerce(key[i] ?? null, text, c, "ymd"));
  if (columns.length === 0 || values.some((v) => "why" in v)) return null;
  const where = columns.map((c) => `${quoted(c.name)} = ?`).join(" AND ");
  const found = db
    .prepare(`SELECT ${rowIdentity(db, table).names.join(", ")} FROM ${tableSql(db, table.name)} WHERE ${where}`)
    .raw()
    .safeIntegers(true)
    .get(values.map((v) => ("stored" in v ? v.stored : null))) as Image | undefined;
  return found ? encodeImage(found) : null;
}

/** The values that a change made others. Columns of an older shape of the table are told as they were stored. */
function differing(table: Table, columns: string[], before: Image, after: Image): RowChange["fields"] {
  return columns.flatMap((name, i) => {
    const [was, is] = [before[i] ?? null, after[i] ?? null];
    if (encodeImage([was]) === encodeImage([is])) return [];
    const column = table.columns.find((c) => c.name === name) ?? { type: text, storage: "plain" as const };
    return [{ column: name, before: cellOfStored(was, column), after: cellOfStored(is, column) }];
  });
}
