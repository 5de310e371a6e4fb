"use client";

import { useState } from "react";
import { CHECK_OPERATORS, CHECK_WORDS, type CheckOperator } from "@/core/shape/choices";
import type { ShapeCheck, ShapeColumn } from "@/core/shape/spec";
import { WORDS } from "./words";

type Props = { column: ShapeColumn; others: ShapeColumn[]; change: (check: ShapeCheck | null) => void };

/** What a column's values must be: one of a list, or so compared with a value or with another column. */
export function CheckEditor({ column, others, change }: Props) {
  const check = column.check ?? null;
  const [list, setList] = useState(check?.kind === "oneOf" ? check.values.join("\n") : "");
  const kind = check === null ? "" : check.kind === "oneOf" ? "oneOf" : check.operator;
  const to = check?.kind === "compare" ? check.to : { kind: "value" as const, text: "" };
  const choose = (next: string) => {
    if (next === "") return change(null);
    change(next === "oneOf" ? { kind: "oneOf", values: list.split("\n") } : { kind: "compare", operator: next as CheckOperator, to });
  };
  return (
    <div className="grid w-64 gap-2 text-small">
      <label className="grid gap-0.5">
        {WORDS.checkKind}
        <select className="field" aria-label={WORDS.checkKind} value={kind} onChange={(e) => choose(e.target.value)}>
          <option value="">{WORDS.noCheck}</option>
          <option value="oneOf">{WORDS.oneOf}</option>
          {CHECK_OPERATORS.map((o) => (
            <option key={o} value={o}>
              {CHECK_WORDS[o].words}
            </option>
          ))}
        </select>
      </label>
      {check?.kind === "oneOf" && (
        <label className="grid gap-0.5">
          {WORDS.valuesOneALine}
          <textarea
            className="field h-28"
            value={list}
            onChange={(e) => {
              setList(e.target.value);
              change({ kind: "oneOf", values: e.target.value.split("\n") });
            }}
          />
        </label>
      )}
      {check?.kind === "compare" && (
        <label className="grid gap-0.5">
          {WORDS.compareWith}
          <select
            className="field"
            value={to.kind === "column" ? to.id : ""}
            onChange={(e) => change({ ...check, to: e.target.value === "" ? { kind: "value", text: "" } : { kind: "column", id: e.target.value } })}
          >
            <option value="">{WORDS.valueOrColumn}</option>
            {others.map((o) => (
              <option key={o.id} value={o.id}>
                {o.name}
              </option>
            ))}
          </select>
          {to.kind === "value" && (
            <input
              className="field"
              aria-label={CHECK_WORDS[check.operator].words}
              value={to.text}
              onChange={(e) => change({ ...check, to: { kind: "value", text: e.target.value } })}
            />
          )}
        </label>
      )}
    </div>
  );
}
