"use client";

import dynamic from "next/dynamic";
import { useState } from "react";
import { PIVOT_FORMATS } from "@/core/pivot/choices";
import { toggleShut } from "@/core/pivot/edit";
import { cellAt, cellWords, type Line, type Column as PivotColumn } from "@/core/pivot/lines";
import type { CellPick } from "@/core/pivot/pick";
import type { PivotPlan } from "@/core/pivot/pivot";
import { groupingPlan, merges } from "@/core/pivot/plan";
import { pickAt, pickEmpties, planCellRows } from "@/core/pivot/rows";
import type { PivotSpec } from "@/core/pivot/spec";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { cellWriter, counted } from "@/core/types/format";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { AsOf } from "../AsOf";
import { type Deed, makeFile } from "../DeedsMenu";
import type { SavedObject } from "../keptObject";
import { SavedHeader } from "../SavedHeader";
import { useMakeFrom } from "../useMakeFrom";
import { useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { CellRows } from "./CellRows";
import { HeatLegend } from "./Heat";
import { PivotBuilder } from "./PivotBuilder";
import { PivotGrid } from "./PivotGrid";
import { PivotProblems } from "./PivotProblems";
import { PivotProof } from "./PivotProof";
import { PivotSettings } from "./PivotSettings";
import { FieldsNav, ShelfDrag } from "./Shelves";
import { usePivot } from "./usePivot";
import { WORDS } from "./words";

const SqlPanel = dynamic(() => import("../queries/SqlPanel").then((m) => m.SqlPanel), { loading: () => null });

type Props = { saved: SavedObject<PivotSpec>; query: { id: string; name: string; spec: QuerySpec }; schema: Schema; today: Today };

/** The page of one pivot: fields on the left, shelves and grid, the margin with its cross-footing. */
export function PivotPage({ saved, query, schema, today }: Props) {
  const locale = useLocale();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const object = useSavedObject("pivot", "/pivots", saved, spec, change);
  const { stored } = object;
  const [cell, setCell] = useState<{ pick: CellPick; words: string } | null>(null);
  const { inner, plan, table, answer, answered, shown, settled, failure, running, problems } = usePivot(spec, query.spec, schema, today);

  const alter = (next: PivotSpec) => {
    setCell(null);
    change(next);
  };
  const make = useMakeFrom();
  const makeFrom = (path: string, place: string, more: object) => void make(path, place, { query: query.id, ...more });

  function open(line: Line, column: PivotColumn): void {
    const figure = answer?.figures[column.figure];
    if (!answer || !figure || !plan || running) return;
    const text = cellWriter(figure.type, figure.format, locale)(cellAt(answer, line, column)).text || "nothing";
    setCell({ pick: pickAt(answer, line, column), words: `${text} (${cellWords(answer, line, column, locale)})` });
  }
  const openEmpties = (field: number, side: "down" | "across"): void =>
    setCell({ pick: pickEmpties(side, field), words: WORDS.noHeading(answer?.axes[side][field]?.heading.toLowerCase() ?? "") });

  const deeds: Deed[] = [
    ...PIVOT_FORMATS.map((format) => ({
      words: format === "pdf" ? COMMON.printToPDF : COMMON.export(format.toUpperCase()),
      disabled: !plan,
      act: () => makeFile("/api/pivots/export", { spec, values: {}, name: stored.name }, format),
    })),
    { words: COMMON.newChart, disabled: !plan, act: () => makeFrom("/api/charts/new", "/charts", { pivot: spec, name: stored.name }) },
    {
      words: WORDS.addToReport,
      disabled: !plan,
      act: () => makeFrom("/api/report/new", "/reports", { values: {}, closing: [{ kind: "pivot", id: stored.id }] }),
    },
    { words: WORDS.swapDownAndAcross, act: () => alter({ ...spec, down: spec.across, across: spec.down, shut: [] }) },
  ];

  return (
    <ShelfDrag spec={spec} change={alter}>
      <div className="flex h-full">
        <FieldsNav spec={spec} table={table} change={alter} query={query} />
        <section className="flex min-w-0 flex-1 flex-col gap-3 px-5 pt-4">
          <SavedHeader object={object} history={{ undo, redo, canUndo, canRedo }} deeds={deeds} />
          {inner && table && <PivotBuilder spec={spec} inner={inner} table={table} change={alter} problems={problems} answer={answer} />}
          <PivotProblems problems={problems} spec={spec} table={table} change={alter} />
          {failure && problems.length === 0 && <Notice tone="wrong">{failure.message}</Notice>}
          {cell && plan ? (
            <CellRows
              key={JSON.stringify(cell.pick)}
              question={{ spec: query.spec, values: settled.parameters, cell: { ...cell.pick, pivot: settled } }}
              plan={planCellRows(plan, cell.pick)}
              words={cell.words}
              asOf={answer?.asOf}
              name={stored.name}
              back={() => setCell(null)}
            />
          ) : answer && shown ? (
            <>
              <PivotGrid pivot={answer} spec={shown} label={stored.name} onOpen={open} onToggle={(path) => change(toggleShut(spec, path))} />
              <div className="-mx-5 flex h-9 shrink-0 items-center justify-between gap-4 border-t border-rule px-5 text-small whitespace-nowrap text-soft">
                <span className="max-md:truncate">
                  {WORDS.downAcross(
                    running ? COMMON.counting : counted(answer.proof.rows.query, "row", locale),
                    counted(answer.down.length - 1, "heading", locale),
                    answer.across.length - 1,
                  )}
                  {answer.asOf && " · "}
                  <AsOf moment={answer.asOf} />
                </span>
                <HeatLegend pivot={answer} spec={shown} />
                <span className="min-w-0 truncate max-lg:hidden">{WORDS.doubleClickAFigureOr}</span>
              </div>
            </>
          ) : (
            <div className="mb-9 flex-1 border border-rule bg-sheet p-6 text-soft">
              {running && plan ? <span className="appear-late">{COMMON.counting}</span> : null}
            </div>
          )}
        </section>
        <Margin
          parts={[
            { name: COMMON.proof, content: <PivotProof question={answered} pivot={shown ? answer : null} spec={shown ?? settled} onEmpties={openEmpties} /> },
            {
              name: COMMON.settings,
              content: <PivotSettings spec={spec} table={table} parameters={plan?.plan.parameters ?? inner?.parameters ?? []} show={change} alter={alter} />,
            },
            { name: "SQL", content: <SqlPanel plan={plan && leavesPlan(plan)} /> },
          ]}
        />
      </div>
    </ShelfDrag>
  );
}

/** The query that counts a pivot's leaves: its figures by all of its fields. */
const leavesPlan = (plan: PivotPlan) =>
  groupingPlan(
    plan,
    plan.down.map((a) => a.column),
    plan.across.map((a) => a.column),
    plan.figures.filter(merges),
  );
