"use client";

import { checkControls, controlColumns, withControl } from "@/core/query/controls";
import type { Plan } from "@/core/query/plan";
import type { ControlTotal, QuerySpec } from "@/core/query/spec";
import { cellWriter } from "@/core/types/format";
import type { FootingAnswer } from "@/server/services/queries/service";
import { Notice } from "@/ui/Notice";
import { NumberField } from "../editors/NumberField";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** Figures known from elsewhere, each held against the query's own footing. */
export function ControlTotals({
  spec,
  plan,
  footing,
  change,
}: {
  spec: QuerySpec;
  plan: Plan | null;
  footing: FootingAnswer | null;
  change: (next: QuerySpec) => void;
}) {
  const locale = useLocale();
  const controls = spec.controls ?? [];
  const checks = plan && footing ? checkControls(spec, plan, footing) : [];
  const set = (id: string, next: Partial<ControlTotal>) => change({ ...spec, controls: controls.map((c) => (c.id === id ? { ...c, ...next } : c)) });
  const add = () => change(withControl(spec, { source: "", column: plan ? (controlColumns(plan)[0]?.id ?? null) : null, value: "" }));
  return (
    <section className="grid gap-3" aria-label={WORDS.controlTotals}>
      <h3 className="caption">{WORDS.controlTotals}</h3>
      {controls.map((control) => {
        const check = checks.find((c) => c.control.id === control.id);
        const write = check && cellWriter(check.type, {}, locale);
        return (
          <div key={control.id} className="grid gap-1 border-b border-hairline pb-2">
            <div className="flex gap-1">
              <select
                className="field"
                aria-label={COMMON.compareWith}
                value={control.column ?? ""}
                onChange={(e) => set(control.id, { column: e.target.value || null })}
              >
                <option value="">{COMMON.rows}</option>
                {plan &&
                  controlColumns(plan).map((c) => (
                    <option key={c.id} value={c.id}>
                      {c.heading}
                    </option>
                  ))}
                {control.column !== null && !plan?.columns.some((c) => c.id === control.column && c.totalled) && (
                  <option value={control.column}>{COMMON.aMissingColumn}</option>
                )}
              </select>
              <NumberField label={WORDS.controlTotal} value={control.value} onChange={(value) => set(control.id, { value })} />
              <button
                type="button"
                className="small-button text-vermilion"
                aria-label={WORDS.removeTheControlTotal}
                onClick={() => change({ ...spec, controls: controls.filter((c) => c.id !== control.id) })}
              >
                ×
              </button>
            </div>
            <input
              className="field"
              placeholder={COMMON.source}
              aria-label={COMMON.source}
              value={control.source}
              onChange={(e) => set(control.id, { source: e.target.value })}
            />
            {check &&
              write &&
              control.value.trim() !== "" &&
              (check.agrees ? (
                <p className="text-small font-semibold text-bottle">{WORDS.agrees}</p>
              ) : (
                <Notice tone="wrong">{check.out === null ? WORDS.notANumberOfThis : WORDS.controlDiffers(write(check.is).text, write(check.out).text)}</Notice>
              ))}
          </div>
        );
      })}
      <button type="button" className="link justify-self-start text-small" onClick={add}>
        {WORDS.addControlTotal}
      </button>
    </section>
  );
}
