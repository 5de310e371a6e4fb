"use client";

import { useState } from "react";
import { type RowsNamed, rowsNamed } from "@/core/schema/rowNames";
import { type Column, type Schema, storedColumns, type Table } from "@/core/schema/schema";
import type { RowEdit } from "@/server/jobs/posting/edit";
import { Notice } from "@/ui/Notice";
import { RowInput } from "../editors/RowInput";
import { ValueInput } from "../editors/ValueInput";
import { COMMON } from "../words";
import { PasteRows } from "./PasteRows";
import { WORDS } from "./words";

type Props = {
  table: Table;
  schema: Schema;
  /** What is known of the row already, by column; it is not asked for. */
  given?: Record<string, string>;
  /** Makes the change. @returns what is wrong with it, if anything */
  make: (change: RowEdit) => Promise<string | null>;
  onDone: () => void;
};

/** A row to be added: a field for each column that can be written; rows it leads to are found by their names. */
export function NewRow({ table, schema, given = {}, make, onDone }: Props) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const values = { ...typed, ...given };
  const [failure, setFailure] = useState<string | null>(null);
  const columns = storedColumns(table).filter((c) => !c.generated && c.filled !== "number");
  async function save(): Promise<void> {
    const filled = Object.fromEntries(columns.flatMap((c) => (values[c.name] || !c.filled ? [[c.name, values[c.name] ?? ""]] : [])));
    const problem = await make({ kind: "add", values: filled });
    setFailure(problem);
    if (problem === null) onDone();
  }
  async function saveRows(rows: Record<string, string>[]): Promise<string | null> {
    const problem = await make({ kind: "rows", rows: rows.map((row) => ({ ...row, ...given })) });
    if (problem === null) onDone();
    return problem;
  }
  const asked = columns.filter((c) => !(c.name in given));
  return (
    <div className="grid gap-4">
      <form
        className="grid gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        {asked.map((c) => (
          <label key={c.name} className="grid gap-0.5 text-small">
            <span>
              {c.label}
              {c.unit ? `, ${c.unit}` : ""} {!c.nullable && !c.filled && <span className="text-soft">{WORDS.required}</span>}
            </span>
            <NewValue column={c} from={rowsNamed(schema, table.name, c.name)} value={values[c.name] ?? ""} set={(v) => setTyped({ ...typed, [c.name]: v })} />
          </label>
        ))}
        {failure && <Notice tone="wrong">{failure}</Notice>}
        <div className="flex gap-2">
          <button type="submit" className="button-primary">
            {WORDS.addRow}
          </button>
          <button type="button" className="button" onClick={onDone}>
            {COMMON.cancel}
          </button>
        </div>
      </form>
      <PasteRows table={table} schema={schema} columns={asked} add={saveRows} />
    </div>
  );
}

type ValueProps = { column: Column; from: RowsNamed | null; value: string; set: (value: string) => void };

/** The field of one column: a row by its name, one of a list, or what its type is typed in. */
function NewValue({ column, from, value, set }: ValueProps) {
  const label = WORDS.newValue(column.label);
  if (from) return <RowInput name={label} from={from} values={{}} value={value} set={set} />;
  if (!column.allowed) return <ValueInput type={column.type} label={label} value={value} onChange={set} />;
  return (
    <select className="field" aria-label={label} value={value} onChange={(e) => set(e.target.value)}>
      <option value="" />
      {column.allowed.map((a) => (
        <option key={a}>{a}</option>
      ))}
    </select>
  );
}
