"use client";

import { useState } from "react";
import { toast } from "sonner";
import { rowNameColumn } from "@/core/schema/rowNames";
import type { Column, Table } from "@/core/schema/schema";
import { TYPE_WORDS, type ValueKind, type ValueType } from "@/core/types/valueType";
import { ask, sentenceOf } from "../ask";
import { FormatFields } from "../editors/FormatFields";
import { UnitChoices } from "../editors/UnitChoices";
import { COMMON } from "../words";
import { WORDS } from "./words";

/** The columns of a table; each opens to what a person may say of it. */
export function ColumnsPanel({ table, onChange, onSaved }: { table: Table; onChange: (derived: string) => void; onSaved: () => void }) {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <>
      {table.key.length === 1 && <RowName table={table} onSaved={onSaved} />}
      <ul>
        {table.columns.map((c) => (
          <li key={c.name} className="border-b border-hairline">
            <button
              type="button"
              aria-expanded={c.derived ? undefined : open === c.name}
              onClick={() => (c.derived ? onChange(c.name) : setOpen(open === c.name ? null : c.name))}
              className="flex w-full justify-between gap-2 py-1 text-left hover:bg-bottle-tint"
              title={c.derived?.words ?? c.note ?? c.name}
            >
              <span className={`truncate ${c.derived ? "text-plum" : ""} ${c.derived?.broken ? "line-through" : ""}`}>
                {c.label}
                {table.key.includes(c.name) && <span className="text-soft"> {WORDS.key}</span>}
              </span>
              <span className="shrink-0 text-soft">
                {TYPE_WORDS[c.type.kind]}
                {c.unit ? `, ${c.unit}` : ""}
              </span>
            </button>
            {open === c.name && <ColumnSettings key={c.name} table={table} column={c} onSaved={onSaved} />}
          </li>
        ))}
      </ul>
    </>
  );
}

/** The column that rows of the table are called by, wherever others link to them. */
function RowName({ table, onSaved }: { table: Table; onSaved: () => void }) {
  const choose = (column: string) => ask("/api/tables/named", { table: table.name, column }).then(onSaved, (e) => toast.error(sentenceOf(e)));
  const texts = table.columns.filter((c) => c.type.kind === "text" && !c.derived?.broken);
  return (
    <label className="mb-2 grid gap-0.5 border-b border-rule pb-2 text-small" title={WORDS.rowNameHelp}>
      {WORDS.rowName}
      <select className="field" value={rowNameColumn(table)?.name ?? ""} onChange={(e) => void choose(e.target.value)}>
        <option value="">{WORDS.noRowName}</option>
        {texts.map((c) => (
          <option key={c.name} value={c.name}>
            {c.label}
          </option>
        ))}
      </select>
    </label>
  );
}

/** The list of units, named in the page. */
const UNITS = "units-of-columns";

const KINDS = Object.keys(TYPE_WORDS) as ValueKind[];

function ColumnSettings({ table, column, onSaved }: { table: Table; column: Column; onSaved: () => void }) {
  const [kind, setKind] = useState<ValueKind | "found">("found");
  const [scale, setScale] = useState(column.type.kind === "decimal" ? column.type.scale : 2);
  const save = (set: Record<string, unknown>) =>
    ask("/api/tables/column", { table: table.name, column: column.name, set }).then(onSaved, (e) => toast.error(sentenceOf(e)));
  const text = (name: "label" | "unit" | "note", value: string | undefined) => (
    <input
      className="field"
      list={name === "unit" ? UNITS : undefined}
      aria-label={COMMON.partOf(name, column.name)}
      defaultValue={value ?? ""}
      onBlur={(e) => e.target.value.trim() !== (value ?? "") && save({ [name]: e.target.value.trim() || null })}
      onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
    />
  );
  const typeOf = (k: ValueKind, s: number): ValueType => (k === "decimal" ? { kind: k, scale: s } : { kind: k });
  return (
    <div className="grid gap-2 bg-sheet p-2 text-small">
      <label className="grid gap-0.5">
        {WORDS.label}
        {text("label", column.label)}
      </label>
      <label className="grid gap-0.5">
        {WORDS.unitOrCurrencyCode}
        {text("unit", column.unit)}
        <UnitChoices id={UNITS} />
      </label>
      <label className="grid gap-0.5">
        {WORDS.note}
        {text("note", column.note)}
      </label>
      <label className="grid gap-0.5">
        {COMMON.type}
        <select
          className="field"
          aria-label={WORDS.typeOf(column.name)}
          value={kind === "found" ? column.type.kind : kind}
          onChange={(e) => {
            const next = e.target.value as ValueKind;
            setKind(next);
            void save({ type: typeOf(next, scale) });
          }}
        >
          {KINDS.map((k) => (
            <option key={k} value={k}>
              {TYPE_WORDS[k]}
            </option>
          ))}
        </select>
      </label>
      {(kind === "decimal" || (kind === "found" && column.type.kind === "decimal")) && (
        <label className="grid gap-0.5">
          {WORDS.decimalPlaces}
          <input
            className="field"
            type="number"
            min={1}
            max={12}
            value={scale}
            onChange={(e) => setScale(Math.min(12, Math.max(1, Number(e.target.value))))}
            onBlur={() => save({ type: typeOf("decimal", scale) })}
          />
        </label>
      )}
      <FormatFields type={column.type} format={column.format} onChange={(format) => save({ format })} />
      <button
        type="button"
        className="link justify-self-start"
        onClick={() => {
          setKind("found");
          void save({ type: null, label: null, note: null, format: null });
        }}
      >
        {WORDS.asInTheFile}
      </button>
      <p className="text-soft">{WORDS.storedAs(column.name)}</p>
    </div>
  );
}
