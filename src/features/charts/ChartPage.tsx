"use client";

import dynamic from "next/dynamic";
import { useDeferredValue, useMemo, useState } from "react";
import { toast } from "sonner";
import { CHART_COLOURS } from "@/core/chart/colours";
import { type ChartAnswer, colourKey, seriesOf } from "@/core/chart/data";
import { CHARTS, shelvesOf, suitedKinds } from "@/core/chart/kinds";
import { planChart } from "@/core/chart/plan";
import { type Mark, type MarkCell, markCell } from "@/core/chart/rows";
import { CHART_FORMATS, CHART_KINDS, type ChartKind, type ChartSpec, EARLIER } from "@/core/chart/spec";
import type { Drawn } from "@/core/chart/style";
import type { Heading } from "@/core/pivot/assemble";
import type { Shelf } from "@/core/pivot/edit";
import { namesTo } from "@/core/pivot/lines";
import { planPivot } from "@/core/pivot/plan";
import { planCellRows } from "@/core/pivot/rows";
import { tableOfPlan } from "@/core/query/over";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import { GROUP_PART_WORDS } from "@/core/types/date";
import { counted } from "@/core/types/format";
import { type Problem, sentence } from "@/core/types/problem";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { ask, sentenceOf } from "../ask";
import { BoundParameters } from "../BoundParameters";
import { makeFile } from "../DeedsMenu";
import type { SavedObject } from "../keptObject";
import { NumberField } from "../NumberField";
import { CellRows } from "../pivots/CellRows";
import { PivotBuilder } from "../pivots/PivotBuilder";
import { PivotProof } from "../pivots/PivotProof";
import { FieldsNav, ShelfDrag } from "../pivots/Shelves";
import { TooMany } from "../pivots/TooMany";
import { SavedHeader } from "../SavedHeader";
import { useLocale } from "../shell/Shell";
import { useAnswer } from "../useAnswer";
import { useSavedObject } from "../useSavedObject";
import { ChartTable } from "./ChartTable";

const ChartView = dynamic(() => import("./ChartView"), { ssr: false });

type Props = {
  saved: SavedObject<ChartSpec>;
  query: { id: string; name: string; spec: QuerySpec };
  schema: Schema;
  today: string;
  colours: Record<string, number>;
};

const SHELF_ORDER: Shelf[] = ["across", "figures", "down"];

/** The page of one chart: fields on the left, shelves and the chart, its settings and proof in the margin. */
export function ChartPage({ saved, query, schema, today, colours }: Props) {
  const locale = useLocale();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const object = useSavedObject("chart", "/charts", saved, spec, change);
  const { stored } = object;
  const [chosen, setChosen] = useState(colours);
  const [cell, setCell] = useState<(MarkCell & { words: string }) | null>(null);
  const [tabled, setTabled] = useState(false);
  const settled = useDeferredValue(spec);
  const values = settled.pivot.parameters;
  const inner = useMemo(() => resolveQuery(query.spec, schema, { today, values }), [query, schema, today, values]);
  // A histogram whose bands the data decides is planned on the server; here any width tells what is wrong with the rest.
  const planned = useMemo(() => (inner.ok ? planChart(settled, inner.value, { today, values }, settled.band || "1") : inner), [inner, settled, today, values]);
  const table = useMemo(() => (inner.ok ? tableOfPlan(inner.value) : null), [inner]);
  const {
    answer: found,
    asked,
    failure,
    running,
  } = useAnswer<ChartAnswer, { spec: ChartSpec; values: object }>("/api/charts", planned.ok ? { spec: settled, values: {} } : null, 120);
  const problems = planned.ok ? (failure?.body.problems ?? []) : planned.problems;
  const answer = planned.ok ? found : null;
  // What is drawn is drawn as it was asked for, until the next answer is there.
  const drawnSpec = asked?.spec ?? settled;
  const kind = CHARTS[spec.kind];

  const alter = (next: ChartSpec) => {
    setCell(null);
    change(next);
  };
  const set = (next: Partial<ChartSpec>) => alter({ ...spec, ...next });
  const changePivot = (pivot: ChartSpec["pivot"]) => set({ pivot, right: spec.right.filter((id) => pivot.figures.some((f) => f.id === id)) });
  const ownProblems = problems.map((p): Problem => (p.path[0] === "pivot" ? { ...p, path: p.path.slice(1) } : p));

  function openMark(mark: Mark, drawn: Drawn): void {
    const found = answer && markCell(drawnSpec, answer, drawn, mark);
    if (!found || !answer) return;
    const series = drawn.data?.series[mark.series];
    const place = "pivot" in answer ? namesTo(answer.pivot, "across", drawn.data?.places[mark.place]?.heading ?? 0, locale) : [];
    const label = "pivot" in answer ? "" : String(drawn.config.data.labels?.[mark.place] ?? "this point");
    setCell({ ...found, words: [...place, series?.name, label].filter(Boolean).join(" · ") });
  }
  const cellPivot = cell && inner.ok ? planPivot(cell.pivot, inner.value, { today, values }) : null;
  async function choose(key: string, place: number | null): Promise<void> {
    try {
      setChosen(await ask<Record<string, number>>("/api/charts/colours", { key, place }));
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }

  const shelves = table && shelvesOf(spec, table);
  const suited = shelves ? suitedKinds(shelves) : [];
  return (
    <ShelfDrag spec={spec.pivot} change={changePivot}>
      <div className="flex h-full">
        <FieldsNav spec={spec.pivot} table={table} change={changePivot} query={query} names={kind.shelves} />
        <section className="flex min-w-0 flex-1 flex-col gap-3 px-5 pt-4">
          <SavedHeader
            object={object}
            history={{ undo, redo, canUndo, canRedo }}
            deeds={CHART_FORMATS.map((format) => ({
              words: { png: "Save as a picture (PNG)", pdf: "Print to PDF", csv: "Export its table (CSV)" }[format],
              disabled: !answer,
              act: () => makeFile("/api/charts/export", { spec, values: {}, name: stored.name }, format),
            }))}
          >
            <button type="button" className="button" aria-pressed={tabled} onClick={() => setTabled(!tabled)}>
              {tabled ? "As a chart" : "As a table"}
            </button>
          </SavedHeader>
          <KindPicker kind={spec.kind} suited={suited} choose={(next) => set({ kind: next })} />
          {inner.ok && table && (
            <PivotBuilder
              spec={spec.pivot}
              inner={inner.value}
              table={table}
              change={changePivot}
              problems={ownProblems}
              answer={answer && "pivot" in answer ? answer.pivot : null}
              names={kind.shelves}
              order={SHELF_ORDER}
            />
          )}
          {problems.length > 0 && (
            <Notice tone="wrong">
              {problems.map((p) => sentence(p)).join(" ")} <TooMany problems={problems} spec={spec.pivot} change={changePivot} />
            </Notice>
          )}
          {failure && problems.length === 0 && <Notice tone="wrong">{failure.message}</Notice>}
          {cell && cellPivot?.ok ? (
            <CellRows
              key={JSON.stringify(cell.pick)}
              question={{ spec: query.spec, values, cell: { ...cell.pick, pivot: cell.pivot } }}
              plan={planCellRows(cellPivot.value, cell.pick)}
              words={cell.words}
              name={stored.name}
              back={() => setCell(null)}
            />
          ) : (
            <>
              <div className="min-h-0 flex-1 pb-2">
                {answer && tabled && <ChartTable spec={drawnSpec} answer={answer} label={stored.name} />}
                {answer && !tabled && (
                  <ChartView
                    spec={drawnSpec}
                    answer={answer}
                    chosen={chosen}
                    label={stored.name}
                    onMark={{ does: "opens the rows behind one", act: openMark }}
                    onTable={() => setTabled(true)}
                  />
                )}
              </div>
              <div className="-mx-5 flex h-9 shrink-0 items-center justify-between gap-4 border-t border-rule px-5 text-small text-soft">
                <span>
                  {running
                    ? "Counting…"
                    : answer && "pivot" in answer
                      ? counted(answer.pivot.proof.rows.query, "row", locale)
                      : answer?.shape === "points"
                        ? counted(answer.points.length, "row", locale)
                        : ""}
                </span>
                <span className="max-lg:hidden">click a mark for the rows behind it; T shows the table</span>
              </div>
            </>
          )}
        </section>
        <Margin
          parts={[
            {
              name: "Settings",
              content: (
                <div className="grid gap-5">
                  <Settings spec={spec} set={set} />
                  {answer && "pivot" in answer && <Colours answer={answer} spec={drawnSpec} chosen={chosen} choose={choose} />}
                  {inner.ok && (
                    <BoundParameters
                      parameters={planned.ok && "pivot" in planned.value ? planned.value.pivot.plan.parameters : inner.value.parameters}
                      bound={spec.pivot.parameters}
                      change={(parameters) => changePivot({ ...spec.pivot, parameters })}
                    />
                  )}
                </div>
              ),
            },
            {
              name: "Proof",
              content:
                answer && !("pivot" in answer) ? (
                  <p className="text-soft">Each mark is a row as it is; there is nothing added up that could be out.</p>
                ) : (
                  <PivotProof question={null} pivot={answer && "pivot" in answer ? answer.pivot : null} spec={drawnSpec.pivot} onEmpties={() => {}} />
                ),
            },
          ]}
        />
      </div>
    </ShelfDrag>
  );
}

/** All kinds in a row; those that suit what is on the shelves stand out, the best first named as such. */
function KindPicker({ kind, suited, choose }: { kind: ChartKind; suited: ChartKind[]; choose: (kind: ChartKind) => void }) {
  return (
    <div role="group" aria-label="Kind of chart" className="flex flex-wrap gap-1">
      {CHART_KINDS.map((k) => (
        <button
          key={k}
          type="button"
          aria-pressed={k === kind}
          title={`${CHARTS[k].help}${suited[0] === k ? " Suits this best." : suited.includes(k) ? "" : " Needs other fields."}`}
          onClick={() => choose(k)}
          className={`rounded border px-2 py-0.5 text-small ${k === kind ? "border-bottle bg-bottle font-semibold text-white" : suited.includes(k) ? "border-rule bg-sheet hover:border-faint" : "border-transparent text-faint"}`}
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

function Settings({ spec, set }: { spec: ChartSpec; set: (next: Partial<ChartSpec>) => void }) {
  const { shape } = CHARTS[spec.kind];
  const dated = spec.pivot.across.some((a) => a.value.kind === "field" && a.value.part && a.value.part !== "weekday");
  return (
    <section className="grid gap-2">
      <Check words="Values beside the marks" checked={spec.labels} onChange={(labels) => set({ labels })} />
      <Check words="Patterns beside colours" checked={spec.patterns} onChange={(patterns) => set({ patterns })} />
      {shape === "series" && <Check words="Bars that lie" checked={spec.lying} onChange={(lying) => set({ lying })} />}
      {shape === "series" && <Check words="Line at the mean of the first" checked={spec.mean} onChange={(mean) => set({ mean })} />}
      {(shape === "series" || shape === "points") && <Check words="Trend of the first" checked={spec.trend} onChange={(trend) => set({ trend })} />}
      {shape === "series" && (
        <label className="grid gap-0.5">
          Target line at
          <span className="grid gap-1">
            <NumberField
              label="Target"
              value={spec.target?.value ?? ""}
              onChange={(value) => set({ target: value === "" ? null : { value, words: spec.target?.words ?? "target" } })}
            />
            {spec.target && (
              <input
                className="field"
                aria-label="Name of the target"
                value={spec.target.words}
                onChange={(e) => set({ target: { value: spec.target?.value ?? "", words: e.target.value } })}
              />
            )}
          </span>
        </label>
      )}
      {spec.kind === "histogram" && (
        <label className="grid gap-0.5">
          Width of the bands (empty: by the data)
          <input className="field" inputMode="decimal" value={spec.band} onChange={(e) => set({ band: e.target.value.trim() })} />
        </label>
      )}
      {shape === "series" && dated && (
        <label className="grid gap-0.5">
          Beside it, the same
          <select className="field" value={spec.earlier ?? ""} onChange={(e) => set({ earlier: (e.target.value || null) as ChartSpec["earlier"] })}>
            <option value="">nothing earlier</option>
            {EARLIER.map((by) => (
              <option key={by} value={by}>
                one {GROUP_PART_WORDS[by]} before
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
            words={`Figure ${i + 1} as a line on a second axis`}
            checked={spec.right.includes(f.id)}
            onChange={(on) => set({ right: on ? [...spec.right, f.id] : spec.right.filter((id) => id !== f.id) })}
          />
        ))}
    </section>
  );
}

/** The colour of each value, kept in every chart it stands in. */
function Colours({
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
      <h3 className="caption pb-1">Colours, in every chart</h3>
      {keys.map(({ key, name }) => (
        <div key={key} className="flex flex-wrap items-center justify-end">
          <span className="min-w-14 flex-1 truncate">{name}</span>
          {CHART_COLOURS.map((colour, place) => (
            <button
              key={colour}
              type="button"
              aria-label={`${name} in colour ${place + 1}`}
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
