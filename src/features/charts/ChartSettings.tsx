"use client";

import { CHART_KINDS, type ChartKind, EARLIER } from "@/core/chart/choices";
import { LIGHT } from "@/core/chart/colours";
import { type ChartAnswer, colourKey, seriesOf } from "@/core/chart/data";
import { CHARTS } from "@/core/chart/kinds";
import type { ChartSpec } from "@/core/chart/spec";
import type { Heading } from "@/core/pivot/pivot";
import { GROUP_PART_WORDS } from "@/core/types/date";
import { NumberField } from "../editors/NumberField";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** All kinds in a row; those that suit what is on the shelves stand out, the best first named as such. */
export function KindPicker({ kind, suited, choose }: { kind: ChartKind; suited: ChartKind[]; choose: (kind: ChartKind) => void }) {
  return (
    <div role="group" aria-label={WORDS.kindOfChart} className="flex flex-wrap gap-1">
      {CHART_KINDS.map((k) => (
        <button
          key={k}
          type="button"
          aria-pressed={k === kind}
          title={`${CHARTS[k].help}${suited[0] === k ? WORDS.suitsThisQueryBest : suited.includes(k) ? "" : WORDS.needsOtherFields}`}
          onClick={() => choose(k)}
          className={`rounded border px-2 py-0.5 text-small ${k === kind ? "border-bottle bg-bottle font-semibold text-on-fill" : suited.includes(k) ? "border-rule bg-sheet hover:border-faint" : "border-transparent text-faint"}`}
        >
          {CHARTS[k].words}
          {suited[0] === k && k !== kind && <span className="text-bottle"> ✓</span>}
        </button>
      ))}
    </div>
  );
}

const Check = ({ words, checked, onChange }: { words: string; checked: boolean; onChange: (next: boolean) => void }) => (
  <label className="flex gap-2">
    <input type="checkbox" className="accent-bottle" checked={checked} onChange={(e) => onChange(e.target.checked)} />
    {words}
  </label>
);

export function ChartSettings({ spec, set }: { spec: ChartSpec; set: (next: Partial<ChartSpec>) => void }) {
  const { shape } = CHARTS[spec.kind];
  const dated = spec.pivot.across.some((a) => a.value.kind === "field" && a.value.part && a.value.part !== "weekday");
  return (
    <section className="grid gap-2">
      <Check words={WORDS.valueLabels} checked={spec.labels} onChange={(labels) => set({ labels })} />
      <Check words={WORDS.patternsAsWellAsColours} checked={spec.patterns} onChange={(patterns) => set({ patterns })} />
      {shape === "series" && <Check words={WORDS.horizontalBars} checked={spec.lying} onChange={(lying) => set({ lying })} />}
      {shape === "series" && <Check words={WORDS.averageLine} checked={spec.mean} onChange={(mean) => set({ mean })} />}
      {(shape === "series" || shape === "points") && <Check words={WORDS.trendLine} checked={spec.trend} onChange={(trend) => set({ trend })} />}
      {shape === "series" && (
        <label className="grid gap-0.5">
          {WORDS.targetLine}
          <span className="grid gap-1">
            <NumberField
              label={COMMON.target}
              value={spec.target?.value ?? ""}
              onChange={(value) => set({ target: value === "" ? null : { value, words: spec.target?.words ?? "target" } })}
            />
            {spec.target && (
              <input
                className="field"
                aria-label={WORDS.targetName}
                value={spec.target.words}
                onChange={(e) => set({ target: { value: spec.target?.value ?? "", words: e.target.value } })}
              />
            )}
          </span>
        </label>
      )}
      {spec.kind === "histogram" && (
        <label className="grid gap-0.5">
          {WORDS.bandWidthEmptyAutomatic}
          <input className="field" inputMode="decimal" value={spec.band} onChange={(e) => set({ band: e.target.value.trim() })} />
        </label>
      )}
      {shape === "series" && dated && (
        <label className="grid gap-0.5">
          {WORDS.compareWith}
          <select className="field" value={spec.earlier ?? ""} onChange={(e) => set({ earlier: (e.target.value || null) as ChartSpec["earlier"] })}>
            <option value="">{COMMON.nothing}</option>
            {EARLIER.map((by) => (
              <option key={by} value={by}>
                {WORDS.previous(GROUP_PART_WORDS[by])}
              </option>
            ))}
          </select>
        </label>
      )}
      {shape === "series" &&
        spec.pivot.figures.length > 1 &&
        spec.pivot.figures.map((f, i) => (
          <Check
            key={f.id}
            words={WORDS.secondAxis(i + 1)}
            checked={spec.right.includes(f.id)}
            onChange={(on) => set({ right: on ? [...spec.right, f.id] : spec.right.filter((id) => id !== f.id) })}
          />
        ))}
    </section>
  );
}

/** The colour of each value, kept in every chart it stands in. */
export function Colours({
  answer,
  spec,
  chosen,
  choose,
}: {
  answer: Extract<ChartAnswer, { pivot: unknown }>;
  spec: ChartSpec;
  chosen: Record<string, number>;
  choose: (key: string, place: number | null) => void;
}) {
  const locale = useLocale();
  const data = seriesOf(spec, answer.pivot, null, locale);
  const parts =
    answer.shape === "parts"
      ? data.places.map((p) => ({ key: colourKey(answer.pivot.across[p.heading] as Heading), name: p.words }))
      : data.series.map((s) => ({ key: s.key, name: s.name }));
  const keys = parts.filter((p) => p.key !== "" && p.key !== "rest").slice(0, 20);
  if (keys.length === 0) return null;
  return (
    <section className="grid gap-1">
      <h3 className="caption pb-1">{WORDS.coloursInAllCharts}</h3>
      {keys.map(({ key, name }) => (
        <div key={key} className="flex flex-wrap items-center justify-end">
          <span className="min-w-14 flex-1 truncate">{name}</span>
          {LIGHT.series.map((colour, place) => (
            <button
              key={colour}
              type="button"
              aria-label={WORDS.colourOf(name, place + 1)}
              aria-pressed={chosen[key] === place}
              onClick={() => choose(key, chosen[key] === place ? null : place)}
              className={`size-6 rounded-sm border-2 ${chosen[key] === place ? "border-ink" : "border-transparent"}`}
              style={{ background: colour, backgroundClip: "content-box", padding: 4 }}
            />
          ))}
        </div>
      ))}
    </section>
  );
}
