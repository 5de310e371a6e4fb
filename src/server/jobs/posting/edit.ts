import { coerce, type Stored, storedText } from "@/core/posting/coerce";
import type { TableLinks } from "@/core/posting/plan";
import type { Column, Table } from "@/core/schema/schema";
import { text } from "@/core/types/valueType";
import { JobFailure } from "@/server/source/failures";
import { changing, type States } from "@/server/source/writing";
import { constraintWords } from "./constraintWords";
import { type Entry, EntryWriter } from "./journal";
import { LinkChecks } from "./linkChecks";
import type { NewEntry } from "./run";
import { encodeImage, Target } from "./target";

type RowKey = (string | number)[];
/** A cell typed over; `was` is what it held when it was seen, null for nothing. */
type CellEdit = { column: string; text: string; was: string | null };

/** A change made in the sheet: values as typed, rows by the values of their key. */
export type RowEdit =
  | ({ kind: "change"; key: RowKey } & CellEdit)
  /** Cells of several rows at once: all of them, or none. */
  | { kind: "block"; rows: { key: RowKey; cells: CellEdit[] }[] }
  | { kind: "add"; values: Record<string, string> }
  /** Several rows at once: all of them, or none. */
  | { kind: "rows"; rows: Record<string, string>[] }
  | { kind: "remove"; keys: RowKey[] };

/** The columns that an edit writes; null where it is whole rows. */
export const columnsWritten = (change: RowEdit): string[] | null => {
  if (change.kind === "change") return [change.column];
  return change.kind === "block" ? [...new Set(change.rows.flatMap((r) => r.cells.map((c) => c.column)))] : null;
};

export type Edited = { entry: Entry; states: States };

/**
 * Makes one change of a sheet, journaled like a posting.
 * @throws JobFailure "refusedEdit" with what is wrong with the value, or why the row cannot go
 */
export function editRow(database: string, table: Table, tableLinks: TableLinks, change: RowEdit, entry: NewEntry): Edited {
  const { result, states } = changing(database, (db) => {
    const target = new Target(db, table);
    const keys = table.key.flatMap((name) => table.columns.find((c) => c.name === name) ?? []);
    const writer = new EntryWriter(db, { ...entry, columns: target.columns.map((c) => c.name) });
    const links = new LinkChecks(db, tableLinks, { name: table.name, columns: target.columns });
    const refuse = (why: string | null) => {
      if (why) throw new JobFailure("refusedEdit", why);
    };
    const before = target.sequence();
    try {
      if (change.kind === "add") add(change.values);
      else if (change.kind === "rows") change.rows.forEach((values, i) => addIn(values, `row ${i + 1} of the copied ones: `));
      else if (change.kind === "remove") change.keys.forEach(remove);
      else if (change.kind === "block") change.rows.forEach((row, i) => setIn(row, `row ${i + 1} of the block: `));
      else setIn({ key: change.key, cells: [change] }, "");
    } catch (error) {
      const why = constraintWords(error, { table });
      if (why === null) throw error;
      throw new JobFailure("refusedEdit", why);
    }
    return writer.finish(null, { before, after: target.sequence() });

    function rowOf(key: RowKey) {
      const values = key.map((k, i) => typed(keys[i] as Column, String(k)));
      const [found] = target.findBy(keys, values);
      if (!found) throw new JobFailure("refusedEdit", "the row does not exist any more; reload the table");
      return found;
    }

    /** @param where said before what is wrong */
    function setIn(row: { key: RowKey; cells: CellEdit[] }, where: string): void {
      try {
        set(row);
      } catch (error) {
        const why = error instanceof JobFailure ? blockWords(error) : constraintWords(error, { table });
        throw why === null || where === "" ? error : new JobFailure("refusedEdit", where + why);
      }
    }

    function set({ key, cells }: { key: RowKey; cells: CellEdit[] }): void {
      const { row, image } = rowOf(key);
      const columns = cells.map((c) => columnOf(c.column));
      const held = (column: Column): Stored | Uint8Array => image[target.columns.indexOf(column)] ?? null;
      cells.forEach(({ was }, i) => {
        const column = columns[i] as Column;
        if (!isSeen(held(column), was, column)) throw new JobFailure("editClash", storedText(held(column), column));
      });
      const next = cells.map((c, i) => typed(columns[i] as Column, c.text));
      const names = columns.map((c) => c.name);
      refuse(links.outward((c) => next[names.indexOf(c)]) ?? links.inward(image, names));
      const after = target.update(row, columns, next);
      writer.sink({ kind: "change", row: after.row, before: image, after: after.image });
    }

    function add(values: Record<string, string>): void {
      const columns = Object.keys(values).map(columnOf);
      const written = columns.map((c) => typed(c, values[c.name] ?? ""));
      refuse(links.outward((c) => written[columns.findIndex((k) => k.name === c)]));
      const { row, image } = target.insert(columns, written);
      writer.sink({ kind: "add", row, before: null, after: image });
    }

    function addIn(values: Record<string, string>, where: string): void {
      try {
        add(values);
      } catch (error) {
        const why = error instanceof JobFailure ? blockWords(error) : constraintWords(error, { table });
        throw why === null ? error : new JobFailure("refusedEdit", where + why);
      }
    }

    function remove(key: RowKey): void {
      const { row, image } = rowOf(key);
      refuse(links.inward(image));
      target.remove(row);
      writer.sink({ kind: "remove", row, before: image, after: null });
    }

    function columnOf(name: string): Column {
      const column = target.columns.find((c) => c.name === name);
      if (!column) throw new JobFailure("refusedEdit", `the table has no column “${name}”`);
      return column;
    }
  });
  return { entry: result, states };
}

/** Why a row of a block was not changed. */
const blockWords = ({ code, particulars }: JobFailure): string | null =>
  code === "editClash" ? `somebody else changed it to “${particulars}” meanwhile; look, then paste again` : code === "refusedEdit" ? particulars : null;

/** Whether a cell still holds what was seen in it: the same value, or the same text where that does not fit its column. */
function isSeen(stored: Stored | Uint8Array, was: string | null, column: Column): boolean {
  if (storedText(stored, column) === (was ?? "")) return true;
  const seen = coerce(was, text, column, "dmy");
  return "stored" in seen && encodeImage([stored]) === encodeImage([seen.stored]);
}

/** What a person typed into a cell, as its column keeps it; nothing typed is empty. */
function typed(column: Column, source: string): Stored {
  const made = coerce(source === "" ? null : source, text, column, "dmy");
  if ("why" in made) throw new JobFailure("refusedEdit", `${column.label}: ${made.why}`);
  if (made.stored === null && !column.nullable && !column.filled) throw new JobFailure("refusedEdit", `${column.label} is required`);
  return made.stored;
}
