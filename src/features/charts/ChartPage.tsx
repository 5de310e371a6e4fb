"use client";

import dynamic from "next/dynamic";
import { useState } from "react";
import { toast } from "sonner";
import { CHART_FORMATS } from "@/core/chart/choices";
import type { ChartAnswer } from "@/core/chart/data";
import { CHARTS, shelvesOf, suitedKinds } from "@/core/chart/kinds";
import { type Mark, type MarkCell, markCell } from "@/core/chart/rows";
import type { ChartSpec } from "@/core/chart/spec";
import type { Drawn } from "@/core/chart/style";
import type { Shelf } from "@/core/pivot/edit";
import { namesTo } from "@/core/pivot/lines";
import { planPivot } from "@/core/pivot/plan";
import { planCellRows } from "@/core/pivot/rows";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { counted } from "@/core/types/format";
import { type Problem, sentence } from "@/core/types/problem";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { AsOf } from "../AsOf";
import { ask, sentenceOf } from "../ask";
import { makeFile } from "../DeedsMenu";
import { BoundParameters } from "../editors/BoundParameters";
import type { SavedObject } from "../keptObject";
import { CellRows } from "../pivots/CellRows";
import { PivotBuilder } from "../pivots/PivotBuilder";
import { PivotProof } from "../pivots/PivotProof";
import { FieldsNav, ShelfDrag } from "../pivots/Shelves";
import { TooMany } from "../pivots/TooMany";
import { SavedHeader } from "../SavedHeader";
import { useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { ChartSettings, Colours, KindPicker } from "./ChartSettings";
import { ChartTable } from "./ChartTable";
import { useChart } from "./useChart";
import { WORDS } from "./words";

const ChartView = dynamic(() => import("./ChartView"), { loading: () => null });

type Props = {
  saved: SavedObject<ChartSpec>;
  query: { id: string; name: string; spec: QuerySpec };
  schema: Schema;
  today: Today;
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
  const { inner, planned, table, answer, drawnSpec, failure, running, problems, values } = useChart(spec, query.spec, schema, today);
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
    const label = "pivot" in answer ? "" : String(drawn.config.data.labels?.[mark.place] ?? WORDS.thisPoint);
    setCell({ ...found, words: [...place, series?.name, label].filter(Boolean).join(" · ") });
  }
  const cellPivot = cell && inner.ok ? planPivot(cell.pivot, inner.value, { today, values }) : null;
  const choose = (key: string, place: number | null): Promise<void> =>
    ask<Record<string, number>>("/api/charts/colours", { key, place }).then(setChosen, (error) => void toast.error(sentenceOf(error)));

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
              words: { png: COMMON.savePicturePNG, pdf: COMMON.printToPDF, csv: WORDS.exportTableCSV }[format],
              disabled: !answer,
              act: () => makeFile("/api/charts/export", { spec, values: {}, name: stored.name }, format),
            }))}
          >
            <button type="button" className="button" aria-pressed={tabled} onClick={() => setTabled(!tabled)}>
              {tabled ? COMMON.chart : COMMON.table}
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
              asOf={answer?.asOf}
              name={stored.name}
              back={() => setCell(null)}
            />
          ) : (
            <ChartArea {...{ answer, tabled, chosen, running, openMark }} spec={drawnSpec} label={stored.name} onTable={() => setTabled(true)} />
          )}
        </section>
        <Margin
          parts={[
            {
              name: COMMON.settings,
              content: (
                <div className="grid gap-5">
                  <ChartSettings spec={spec} set={set} />
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
              name: COMMON.proof,
              content:
                answer && !("pivot" in answer) ? (
                  <p className="text-soft">{WORDS.eachPointIsOneRow}</p>
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

type AreaProps = {
  spec: ChartSpec;
  answer: ChartAnswer | null;
  tabled: boolean;
  chosen: Record<string, number>;
  running: boolean;
  label: string;
  openMark: (mark: Mark, drawn: Drawn) => void;
  onTable: () => void;
};

/** The chart or its table, and how many rows it is of. */
function ChartArea({ spec, answer, tabled, chosen, running, label, openMark, onTable }: AreaProps) {
  const locale = useLocale();
  return (
    <>
      <div className="min-h-0 flex-1 pb-2">
        {answer && tabled && <ChartTable spec={spec} answer={answer} label={label} />}
        {answer && !tabled && (
          <ChartView spec={spec} answer={answer} chosen={chosen} label={label} onMark={{ does: COMMON.opensItsRows, act: openMark }} onTable={onTable} />
        )}
      </div>
      <div className="-mx-5 flex h-9 shrink-0 items-center justify-between gap-4 border-t border-rule px-5 text-small text-soft">
        <span>
          {running
            ? COMMON.counting
            : answer && "pivot" in answer
              ? counted(answer.pivot.proof.rows.query, "row", locale)
              : answer?.shape === "points"
                ? counted(answer.points.length, "row", locale)
                : ""}
          {!running && answer?.asOf && " · "}
          {!running && <AsOf moment={answer?.asOf} />}
        </span>
        <span className="max-lg:hidden">{WORDS.clickAPointToSee}</span>
      </div>
    </>
  );
}
