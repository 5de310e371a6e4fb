"use client";

import { useState } from "react";
import { addOrder, dropOrder, firstRows, raiseOrder, setFirstRows, turnOrder } from "@/core/query/editOrder";
import { columnWords } from "@/core/query/operands";
import { scopeOf } from "@/core/query/reach";
import type { QueryColumn } from "@/core/query/spec";
import { onEnter } from "@/ui/onEnter";
import { Choice, type EditorProps, Remove } from "../../editors/parts";
import { COMMON } from "../../words";
import { WORDS } from "../words";

/** By what rows are ordered, and which way. */
export function OrderEditor({ spec, schema, change }: EditorProps) {
  const scope = scopeOf(spec, schema);
  const name = (c: QueryColumn) => columnWords(c, scope, spec.columns);
  const left = spec.columns.filter((c) => !spec.order.some((o) => o.column === c.id));
  return (
    <>
      <p className="caption pb-1">{WORDS.sortBy}</p>
      {spec.order.map((o, i) => {
        const column = spec.columns.find((c) => c.id === o.column);
        return (
          <div key={o.column} className="flex items-center gap-1 border-b border-hairline py-1">
            <span className="min-w-0 flex-1 truncate">{column ? name(column) : COMMON.aMissingColumn}</span>
            <button type="button" className="link" onClick={() => change(turnOrder(spec, i))}>
              {o.direction === "up" ? "up" : "down"}
            </button>
            {i > 0 && (
              <button type="button" aria-label={WORDS.moveUp} className="small-button" onClick={() => change(raiseOrder(spec, i))}>
                ↑
              </button>
            )}
            <button type="button" aria-label={WORDS.removeFromSorting} className="small-button text-vermilion" onClick={() => change(dropOrder(spec, i))}>
              ×
            </button>
          </div>
        );
      })}
      {left.length > 0 && <p className="caption pt-2 pb-1">{spec.order.length > 0 ? WORDS.thenBy : WORDS.chooseAColumn}</p>}
      {left.map((c) => (
        <Choice key={c.id} onClick={() => change(addOrder(spec, c.id))}>
          {name(c)}
        </Choice>
      ))}
    </>
  );
}

/** How many rows are kept: as many as stand in the field when it is left, of all or for each value of a column. */
export function LimitEditor({ spec, schema, change, close }: EditorProps) {
  const scope = scopeOf(spec, schema);
  const { rows, per } = firstRows(spec);
  const [typed, setTyped] = useState(String(rows ?? ""));
  const keep = (column: string | null) => change(setFirstRows(spec, typed === "" ? null : Number(typed), column));
  return (
    <>
      <label className="grid gap-1">
        {WORDS.numberOfRows}
        <input
          className="field"
          type="number"
          min={1}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={(e) => {
            // What is no number is not a wish for all rows.
            if (e.target.validity.badInput) setTyped(String(rows ?? ""));
            else if (typed !== String(rows ?? "")) keep(per);
          }}
          onKeyDown={onEnter((e) => {
            (e.target as HTMLElement).blur();
            close();
          })}
        />
      </label>
      <label className="grid gap-1 pt-2">
        {WORDS.ofRowsFor}
        <select className="field" value={per ?? ""} onChange={(e) => keep(e.target.value || null)}>
          <option value="">{WORDS.allRowsTogether}</option>
          {spec.columns
            .filter((c) => c.figure === undefined)
            .map((c) => (
              <option key={c.id} value={c.id}>
                {WORDS.each(columnWords(c, scope, spec.columns))}
              </option>
            ))}
        </select>
      </label>
      {rows !== null && (
        <Remove
          onClick={() => {
            change(setFirstRows(spec, null, null));
            close();
          }}
        >
          {WORDS.showAllRows}
        </Remove>
      )}
    </>
  );
}
