"use client";

import { useState } from "react";
import { storedColumns, type Table } from "@/core/schema/schema";
import * as edit from "@/core/shape/edit";
import type { ShapeSpec } from "@/core/shape/spec";
import { BriefPopover } from "@/ui/Brief";
import { Tick } from "../editors/parts";
import { WORDS } from "./words";

type Props = { table: Table; spec: ShapeSpec; change: (next: ShapeSpec) => void };

/** Columns that repeat become a table of their own: which, what it is called, and by what its rows are told apart. */
export function SplitTable(props: Props) {
  return (
    <BriefPopover label={WORDS.splitTable} className="button">
      {(close) => <SplitForm {...props} close={close} />}
    </BriefPopover>
  );
}

function SplitForm({ table, spec, change, close }: Props & { close: () => void }) {
  const kept = storedColumns(table).filter((c) => !c.generated && !table.key.includes(c.name) && spec.columns.some((s) => s.from === c.name));
  const [by, setBy] = useState(kept.find((c) => c.type.kind === "text")?.name ?? kept[0]?.name ?? "");
  const [columns, setColumns] = useState<string[]>([]);
  const [name, setName] = useState("");
  return (
    <form
      className="grid w-full gap-2 text-small"
      onSubmit={(e) => {
        e.preventDefault();
        change(edit.splitTable(spec, { name: name.trim(), by, columns: kept.flatMap((c) => (columns.includes(c.name) ? [c.name] : [])) }));
        close();
      }}
    >
      <p className="text-soft">{WORDS.splitTableHelp}</p>
      <label className="grid gap-0.5">
        {WORDS.splitBy}
        <select className="field" aria-label={WORDS.splitBy} value={by} onChange={(e) => setBy(e.target.value)}>
          {kept.map((c) => (
            <option key={c.name} value={c.name}>
              {c.label}
            </option>
          ))}
        </select>
      </label>
      <fieldset className="grid max-h-48 gap-0.5 overflow-y-auto">
        <legend>{WORDS.splitColumns}</legend>
        {kept
          .filter((c) => c.name !== by)
          .map((c) => (
            <Tick
              key={c.name}
              checked={columns.includes(c.name)}
              set={(on) => setColumns(on ? [...columns, c.name] : columns.filter((other) => other !== c.name))}
            >
              {c.label}
            </Tick>
          ))}
      </fieldset>
      <label className="grid gap-0.5">
        {WORDS.splitName}
        <input className="field" aria-label={WORDS.splitName} value={name} onChange={(e) => setName(e.target.value)} />
      </label>
      <button type="submit" className="button-primary justify-self-start" disabled={name.trim() === "" || by === ""}>
        {WORDS.splitButton}
      </button>
    </form>
  );
}
