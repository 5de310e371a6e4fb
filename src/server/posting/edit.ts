import { coerce, type Stored } from "@/core/posting/coerce";
import type { TableLinks } from "@/core/posting/plan";
import type { Column, Table } from "@/core/schema/schema";
import { text } from "@/core/types/valueType";
import { JobFailure } from "@/server/engine/failures";
import { type Entry, EntryWriter } from "./journal";
import { LinkChecks } from "./linkChecks";
import { constraintWords } from "./perform";
import { changing, type NewEntry, type States } from "./run";
import { encodeImage, Target } from "./target";

/** A change made in the sheet: values as typed, rows by the values of their key. */
export type RowEdit =
  | { kind: "change"; key: (string | number)[]; column: string; text: string; was: string | null }
  | { kind: "add"; values: Record<string, string> }
  | { kind: "remove"; keys: (string | number)[][] };

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
    const links = new LinkChecks(db, tableLinks, target.columns);
    const refuse = (why: string | null) => {
      if (why) throw new JobFailure("refusedEdit", why);
    };
    const before = target.sequence();
    try {
      if (change.kind === "add") add(change.values);
      else if (change.kind === "remove") change.keys.forEach(remove);
      else set(change);
    } catch (error) {
      const why = constraintWords(error, { table });
      if (why === null) throw error;
      throw new JobFailure("refusedEdit", why);
    }
    return writer.finish(null, { before, after: target.sequence() });

    function rowOf(key: (string | number)[]) {
      const values = key.map((k, i) => typed(keys[i] as Column, String(k)));
      const [found] = target.findBy(keys, values);
      if (!found) throw new JobFailure("refusedEdit", "the row does not exist any more; reload the table");
      return found;
    }

    function set({ key, column: name, text: source, was }: Extract<RowEdit, { kind: "change" }>): void {
      const column = columnOf(name);
      const { row, image } = rowOf(key);
      const old = image[target.columns.indexOf(column)] ?? null;
      const seen = was === null ? null : typed(column, was);
      if (encodeImage([old]) !== encodeImage([seen])) throw new JobFailure("refusedEdit", "this value was changed by someone else; reload to see it");
      const next = typed(column, source);
      refuse(links.outward((c) => (c === name ? next : undefined)) ?? links.inward(image, [name]));
      const after = target.update(row, [column], [next]);
      writer.sink({ kind: "change", row: after.row, before: image, after: after.image });
    }

    function add(values: Record<string, string>): void {
      const columns = Object.keys(values).map(columnOf);
      const written = columns.map((c) => typed(c, values[c.name] ?? ""));
      refuse(links.outward((c) => written[columns.findIndex((k) => k.name === c)]));
      const made = target.insert(columns, written);
      writer.sink({ kind: "add", row: made, before: null, after: target.find(made) });
    }

    function remove(key: (string | number)[]): void {
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

/** What a person typed into a cell, as its column keeps it; nothing typed is empty. */
function typed(column: Column, source: string): Stored {
  const made = coerce(source === "" ? null : source, text, column, "dmy");
  if ("why" in made) throw new JobFailure("refusedEdit", made.why);
  if (made.stored === null && !column.nullable && !column.filled) throw new JobFailure("refusedEdit", `${column.label} is required`);
  return made.stored;
}
