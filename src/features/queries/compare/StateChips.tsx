"use client";

import { COMPARE_STATES, STATE } from "@/core/query/comparison";
import { stateCondition, statesShown, toggleState } from "@/core/query/editComparison";
import type { FrequentValue } from "@/core/query/profile";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import { writeCount } from "@/core/types/format";
import { useAnswer } from "../../useAnswer";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";

type Props = {
  spec: QuerySpec;
  /** As it is asked. */
  settled: QuerySpec;
  values: ParameterValues;
  change: (next: QuerySpec) => void;
};

/** What the rows of a comparison are, each with its rows; those pressed are shown. */
export function StateChips({ spec, settled, values, change }: Props) {
  const locale = useLocale();
  const left = { kind: "field" as const, join: "", column: STATE };
  const own = stateCondition(spec);
  const { answer } = useAnswer<{ frequent: FrequentValue[] }>(
    "/api/query/frequent",
    { spec: settled, values, left, condition: stateCondition(settled)?.id ?? "", sought: "" },
    { settleMs: 150 },
  );
  const rowsOf = (state: string) => answer?.frequent.find((f) => f.value === state)?.rows ?? 0;
  const all = answer?.frequent.reduce((sum, f) => sum + f.rows, 0) ?? 0;
  const shown = own ? statesShown(spec) : [];
  const chip = (words: string, rows: number, pressed: boolean, act: () => void) => (
    <button
      key={words}
      type="button"
      aria-pressed={pressed}
      onClick={act}
      className={`rounded-full border px-3 py-0.5 text-small ${pressed ? "border-bottle bg-bottle-tint font-semibold text-bottle" : "border-rule bg-sheet text-ink hover:border-bottle"}`}
    >
      {words} {answer ? writeCount(rows, locale) : ""}
    </button>
  );
  return (
    <fieldset className="flex flex-wrap gap-2" aria-label={WORDS.rowsShown}>
      {chip(WORDS.allRows, all, !own, () => change(toggleState(spec, null)))}
      {COMPARE_STATES.map((state) => chip(state, rowsOf(state), shown.includes(state), () => change(toggleState(spec, state))))}
    </fieldset>
  );
}
