"use client";

import { MARK_LOOKS, MARK_TONES, type MarkTest } from "@/core/query/choices";
import { MARK_SIGNS, type Mark, needsValue, testsFor, testWords } from "@/core/query/marks";
import type { PlanColumn } from "@/core/query/plan";
import { isNumber } from "@/core/types/valueType";
import { ValueInput } from "../../editors/ValueInput";
import { WORDS } from "../words";

type Props = { mark: Mark; columns: readonly PlanColumn[]; change: (mark: Mark) => void };

/** The rule of a mark: how cells look that meet it. */
export function MarkEditor({ mark, columns, change }: Props) {
  const own = columns.find((c) => c.id === mark.column);
  const asked = columns.find((c) => c.id === (mark.by ?? mark.column));
  if (!own || !asked) return null;
  const set = (next: Partial<Mark>) => change({ ...mark, ...next });
  const looks = MARK_LOOKS.filter((look) => look !== "bar" || isNumber(own.type));
  const byOf = (id: string) => {
    const column = columns.find((c) => c.id === id) ?? own;
    const tests = testsFor(column.type);
    set({ by: column === own ? undefined : column.id, test: tests.includes(mark.test) ? mark.test : (tests[0] ?? "is"), value: "" });
  };
  return (
    <div className="grid w-64 gap-2">
      <p className="font-semibold">{WORDS.markCellsOf(own.heading)}</p>
      <fieldset className="flex gap-3" aria-label={WORDS.markLook}>
        {looks.map((look) => (
          <label key={look} className="flex items-center gap-1 text-small">
            <input type="radio" name={`look ${mark.id}`} className="accent-bottle" checked={mark.look === look} onChange={() => set({ look })} />
            {WORDS.markLooks[look]}
          </label>
        ))}
      </fieldset>
      <fieldset className="flex gap-3" aria-label={WORDS.markTone}>
        {MARK_TONES.map((tone) => (
          <label key={tone} className="flex items-center gap-1 text-small">
            <input type="radio" name={`tone ${mark.id}`} className="accent-bottle" checked={mark.tone === tone} onChange={() => set({ tone })} />
            {MARK_SIGNS[tone]} {WORDS.markTones[tone]}
          </label>
        ))}
      </fieldset>
      {mark.look !== "bar" && (
        <>
          <label className="grid gap-0.5 text-small">
            {WORDS.markWhere}
            <select className="field" aria-label={WORDS.markWhere} value={asked.id} onChange={(e) => byOf(e.target.value)}>
              {columns
                .filter((c) => c.orders === undefined)
                .map((c) => (
                  <option key={c.id} value={c.id}>
                    {c.heading}
                  </option>
                ))}
            </select>
          </label>
          <select className="field" aria-label={WORDS.comparison} value={mark.test} onChange={(e) => set({ test: e.target.value as MarkTest })}>
            {testsFor(asked.type).map((test) => (
              <option key={test} value={test}>
                {testWords(test, asked.type)}
              </option>
            ))}
          </select>
          {needsValue(mark.test) && (
            <ValueInput
              type={asked.type}
              percent={asked.format.percent === true}
              value={mark.value}
              label={WORDS.markValue}
              onChange={(value) => set({ value })}
            />
          )}
        </>
      )}
    </div>
  );
}
