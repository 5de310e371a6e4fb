"use client";

import { CONTROL_COMPARES, CONTROL_FIGURES, type ControlCompare, type ControlFigure } from "@/core/posting/choices";
import { COMPARE_WORDS, checkWords, FIGURE_WORDS, type PostingCheck } from "@/core/posting/controls";
import { withControlAt, withNewControl } from "@/core/posting/edit";
import type { PostingControl, PostingSpec } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import { findColumn, findTable, type Schema, storedColumns } from "@/core/schema/schema";
import { isNumber } from "@/core/types/valueType";
import { Notice } from "@/ui/Notice";
import { NumberField } from "../editors/NumberField";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

type Props = { spec: PostingSpec; schema: Schema; at: number; checks: PostingCheck[]; change: (next: PostingSpec) => void };

/** Figures that the step looked at must agree with, or nothing is posted. */
export function PostingControls({ spec, schema, at, checks, change }: Props) {
  const locale = useLocale();
  const table = findTable(schema, stepsOf(spec)[at]?.target ?? "");
  const labelOf = (name: string | undefined) => (table && findColumn(table, name ?? "")?.label) ?? name ?? "";
  const totals = table ? storedColumns(table).filter((c) => isNumber(c.type)) : [];
  return (
    <section className="grid gap-3" aria-label={WORDS.controlTotals}>
      <h3 className="caption">{WORDS.controlTotals}</h3>
      {(spec.controls ?? []).map((control, i) => {
        if (control.step !== at) return null;
        const check = checks.find((c) => c.at === i);
        const set = (next: Partial<PostingControl>) => change(withControlAt(spec, i, next));
        return (
          <div key={i} className="grid gap-1 border-b border-hairline pb-2">
            <select
              className="field"
              aria-label={WORDS.controlFigure}
              value={control.figure === "total" ? `total ${control.column}` : control.figure}
              onChange={(e) => set(figureChosen(e.target.value))}
            >
              {CONTROL_FIGURES.filter((f) => f !== "total").map((figure) => (
                <option key={figure} value={figure}>
                  {FIGURE_WORDS[figure]}
                </option>
              ))}
              {totals.map((c) => (
                <option key={c.name} value={`total ${c.name}`}>
                  {WORDS.changeInTotal(c.label)}
                </option>
              ))}
              {control.figure === "total" && !totals.some((c) => c.name === control.column) && (
                <option value={`total ${control.column}`}>{WORDS.changeInTotal(control.column ?? "")}</option>
              )}
            </select>
            <div className="flex gap-1">
              <select
                className="field"
                aria-label={WORDS.controlCompare}
                value={control.compare}
                onChange={(e) => set({ compare: e.target.value as ControlCompare })}
              >
                {CONTROL_COMPARES.map((compare) => (
                  <option key={compare} value={compare}>
                    {COMPARE_WORDS[compare]}
                  </option>
                ))}
              </select>
              <NumberField label={WORDS.controlValue} value={control.value} onChange={(value) => set({ value })} />
              <button
                type="button"
                className="small-button text-vermilion"
                aria-label={WORDS.removeControlTotal}
                onClick={() => change(withControlAt(spec, i, null))}
              >
                ×
              </button>
            </div>
            {check &&
              (check.agrees ? (
                <p className="text-small font-semibold text-bottle">{WORDS.agrees}</p>
              ) : (
                <Notice tone="wrong">{checkWords(check, labelOf(control.column), locale)}</Notice>
              ))}
          </div>
        );
      })}
      <button type="button" className="link justify-self-start text-small" onClick={() => change(withNewControl(spec, at))}>
        {WORDS.addControlTotal}
      </button>
    </section>
  );
}

function figureChosen(value: string): Pick<PostingControl, "figure" | "column"> {
  const column = value.startsWith("total ") ? value.slice("total ".length) : undefined;
  return column === undefined ? { figure: value as ControlFigure, column: undefined } : { figure: "total", column };
}
