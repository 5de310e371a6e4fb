"use client";

import { useState } from "react";
import { storedColumns, type Table } from "@/core/schema/schema";
import { Notice } from "@/ui/Notice";
import { ValueInput } from "../editors/ValueInput";
import { COMMON } from "../words";
import { WORDS } from "./words";

/** A row to be added: a field for each column that can be written. */
export function NewRow({ table, add, onDone }: { table: Table; add: (values: Record<string, string>) => Promise<string | null>; onDone: () => void }) {
  const [values, setValues] = useState<Record<string, string>>({});
  const [failure, setFailure] = useState<string | null>(null);
  const columns = storedColumns(table).filter((c) => !c.generated && c.filled !== "number");
  async function save(): Promise<void> {
    const filled = Object.fromEntries(columns.flatMap((c) => (values[c.name] || !c.filled ? [[c.name, values[c.name] ?? ""]] : [])));
    const problem = await add(filled);
    setFailure(problem);
    if (problem === null) onDone();
  }
  return (
    <form
      className="grid gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      {columns.map((c) => (
        <label key={c.name} className="grid gap-0.5 text-small">
          <span>
            {c.label}
            {c.unit ? `, ${c.unit}` : ""} {!c.nullable && !c.filled && <span className="text-soft">{WORDS.required}</span>}
          </span>
          {c.allowed ? (
            <select
              className="field"
              aria-label={WORDS.newValue(c.label)}
              value={values[c.name] ?? ""}
              onChange={(e) => setValues({ ...values, [c.name]: e.target.value })}
            >
              <option value="" />
              {c.allowed.map((a) => (
                <option key={a}>{a}</option>
              ))}
            </select>
          ) : (
            <ValueInput type={c.type} label={WORDS.newValue(c.label)} value={values[c.name] ?? ""} onChange={(v) => setValues({ ...values, [c.name]: v })} />
          )}
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
  );
}
