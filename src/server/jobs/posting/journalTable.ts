import { cellOfStored, writtenOut } from "@/core/posting/coerce";
import type { JournalExport } from "@/core/posting/journalFind";
import { quoted } from "@/core/query/dialect/dialect";
import type { Schema, Table } from "@/core/schema/schema";
import { isMisfit, text, type ValueType, whole } from "@/core/types/valueType";
import { inSnapshotOf } from "@/server/source/connections";
import { abandonStage, openStage } from "@/server/source/sqlite/writers";
import { type Entry, readChanges, readEntry } from "./journal";
import { everyEntry, type JournalQuestion } from "./journalFind";
import { createTable, STAGED, stagedTable } from "./stage";
import { decodeImage, encodeImage, type Image } from "./target";

type Value = string | number | bigint | null;

const HEADINGS: Record<JournalExport, [heading: string, type: ValueType][]> = {
  entries: [
    ["number", whole],
    ["at", text],
    ["by", text],
    ["kind", text],
    ["name", text],
    ["brief", text],
    ["tables", text],
    ["rows added", whole],
    ["rows changed", whole],
    ["rows removed", whole],
    ["reverses", whole],
    ["reversed by", whole],
  ],
  changes: [
    ["number", whole],
    ["at", text],
    ["by", text],
    ["name", text],
    ["table", text],
    ["change", text],
    ["row", text],
    ["column", text],
    ["before", text],
    ["after", text],
  ],
};

/** The entries that are looked for, or every value that they changed, as a table of its own. */
export function journalTable(database: string, schema: Schema, what: JournalExport, question: Omit<JournalQuestion, "limit">, path: string): Table {
  const table = stagedTable(HEADINGS[what].map(([heading, type]) => ({ heading, type })));
  const stage = openStage(path);
  try {
    stage.exec(createTable(STAGED, table.columns));
    const insert = stage.prepare(`INSERT INTO ${quoted(STAGED)} VALUES (${table.columns.map(() => "?").join(", ")})`);
    stage.exec("BEGIN");
    let rows = 0;
    inSnapshotOf(database, (db) => {
      for (const entry of everyEntry(db, question)) {
        for (const line of what === "entries" ? [entryLine(entry)] : changeLines(db, entry, schema)) {
          insert.run(line);
          rows++;
        }
      }
    });
    stage.exec("COMMIT");
    return { ...table, rows };
  } catch (error) {
    abandonStage(stage, path);
    throw error;
  } finally {
    stage.close();
  }
}

const integer = (n: number | null): bigint | null => (n === null ? null : BigInt(n));

const entryLine = ({ number, at, by, kind, name, brief, table, others, counts, reverses, reversedBy }: Entry): Value[] => [
  integer(number),
  at,
  by,
  kind,
  name,
  brief,
  [table, ...others].join(", "),
  integer(counts.add),
  integer(counts.change),
  integer(counts.remove),
  integer(reverses),
  integer(reversedBy),
];

/** A line for each value of each row that an entry changed, in the order it was done. */
function* changeLines(db: Parameters<typeof readChanges>[0], { number, at, by, name }: Entry, schema: Schema): Generator<Value[]> {
  const columnsOf = new Map(readEntry(db, number)?.parts.map((p) => [p.table, p.columns]));
  for (const change of readChanges(db, number).reverse()) {
    const table = schema.tables.find((t) => t.name === change.table);
    const [before, after] = [change.before, change.after].map((json) => (json === null ? null : decodeImage(json)));
    const columns = columnsOf.get(change.table) ?? [];
    const key = rowWords(table, columns, after ?? before ?? []);
    for (const [i, column] of columns.entries()) {
      const [was, is] = [before?.[i] ?? null, after?.[i] ?? null];
      if (encodeImage([was]) === encodeImage([is])) continue;
      yield [integer(number), at, by, name, change.table, change.kind, key, column, valueWords(table, column, was), valueWords(table, column, is)];
    }
  }
}

/** The values of a row's key, as the table has it today. */
const rowWords = (table: Table | undefined, columns: string[], image: Image): string =>
  (table?.key ?? []).map((k) => valueWords(table, k, image[columns.indexOf(k)] ?? null) ?? "").join(", ");

/** A value in plain digits and ISO dates; of a column that is gone as it was stored. */
function valueWords(table: Table | undefined, name: string, stored: Image[number]): string | null {
  const column = table?.columns.find((c) => c.name === name) ?? { type: text, storage: "plain" as const };
  const cell = cellOfStored(stored, column);
  if (cell === null) return null;
  return isMisfit(cell) ? cell.misfit : writtenOut(cell, column.type);
}
