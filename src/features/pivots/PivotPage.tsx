"use client";

import { useRouter } from "next/navigation";
import { useDeferredValue, useMemo, useState } from "react";
import { toast } from "sonner";
import { figureChip } from "@/core/brief/pivotBrief";
import type { Pivot } from "@/core/pivot/assemble";
import { addCount, firstPivot, toggleShut } from "@/core/pivot/edit";
import type { Line, Column as PivotColumn } from "@/core/pivot/lines";
import { namesTo } from "@/core/pivot/lines";
import { groupingPlan, merges, planPivot } from "@/core/pivot/plan";
import { type CellPick, planCellRows, stepsTo } from "@/core/pivot/rows";
import { PIVOT_FORMATS, type PivotSpec } from "@/core/pivot/spec";
import { tableOfPlan } from "@/core/query/over";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import { cellWriter, counted } from "@/core/types/format";
import { sentence } from "@/core/types/problem";
import { isNumber } from "@/core/types/valueType";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { ask, sentenceOf } from "../ask";
import { BoundParameters } from "../BoundParameters";
import { makeFile } from "../DeedsMenu";
import type { SavedObject } from "../keptObject";
import { SqlPanel } from "../queries/SqlPanel";
import { SavedHeader } from "../SavedHeader";
import { useLocale } from "../shell/Shell";
import { useAnswer } from "../useAnswer";
import { useSavedObject } from "../useSavedObject";
import { CellRows } from "./CellRows";
import { HeatLegend } from "./Heat";
import { PivotBuilder } from "./PivotBuilder";
import { PivotGrid } from "./PivotGrid";
import { PivotProof } from "./PivotProof";
import { FieldsNav, ShelfDrag } from "./Shelves";
import { TooMany } from "./TooMany";

type Props = { saved: SavedObject<PivotSpec>; query: { id: string; name: string; spec: QuerySpec }; schema: Schema; today: string };

const NO_TABLE: Table = { name: "", label: "", columns: [], key: [], rows: 0 };

/** The page of one pivot: fields on the left, shelves and grid, the margin with its cross-footing. */
export function PivotPage({ saved, query, schema, today }: Props) {
  const locale = useLocale();
  const router = useRouter();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const object = useSavedObject("pivot", "/pivots", saved, spec, change);
  const { stored } = object;
  const [cell, setCell] = useState<{ pick: CellPick; words: string } | null>(null);
  const settled = useDeferredValue(spec);
  const values = settled.parameters;
  const inner = useMemo(() => resolveQuery(query.spec, schema, { today, values }), [query, schema, today, values]);
  const planned = useMemo(() => (inner.ok ? planPivot(settled, inner.value, { today, values }) : inner), [inner, settled, today, values]);
  const table = useMemo(() => (inner.ok ? tableOfPlan(inner.value) : null), [inner]);
  // How groups are folded and shaded is seen to here; only what changes the figures is asked anew.
  const asked = useMemo(() => ({ ...settled, shut: [], heat: null, totals: { down: true, across: true } }), [settled]);
  const question = planned.ok ? { spec: asked, values: {} } : null;
  const { answer, asked: answered, failure, running } = useAnswer<Pivot, { spec: PivotSpec; values: object }>("/api/pivots", question, 120);
  const problems = planned.ok ? (failure?.body.problems ?? []) : planned.problems;

  const alter = (next: PivotSpec) => {
    setCell(null);
    change(next);
  };
  const plan = planned.ok ? planned.value : null;
  // The last answer stays, as it was asked for, until the next is there.
  const { shut, heat, totals } = settled;
  const shown = useMemo(() => answered && plan && { ...answered.spec, shut, heat, totals }, [answered, plan, shut, heat, totals]);

  function open(line: Line, column: PivotColumn): void {
    if (!answer || !plan || running) return;
    const figure = answer.figures[column.figure];
    if (!figure) return;
    const raw = answer.cells[column.figure]?.[line.heading * answer.across.length + column.heading] ?? null;
    const words = [...namesTo(answer, "down", line.heading, locale), ...namesTo(answer, "across", column.heading, locale), figure.heading].join(" · ");
    setCell({
      pick: { down: stepsTo(answer.down, line.heading), across: stepsTo(answer.across, column.heading) },
      words: `${cellWriter(figure.type, figure.format, locale)(raw).text || "nothing"} (${words})`,
    });
  }

  /** Makes something from the pivot, and opens it. */
  async function makeFrom(path: string, place: string, more: object): Promise<void> {
    const made = await ask<{ id: string }>(path, { query: query.id, ...more }).catch((e) => void toast.error(sentenceOf(e)));
    if (made) router.push(`${place}/${made.id}`);
  }

  /** The rows that have no value in a field: those under its own heading. */
  function openEmpties(field: number, side: "down" | "across"): void {
    const steps: CellPick["down"] = [...Array.from({ length: field }, () => ({ any: true as const })), { key: null }];
    setCell({ pick: { down: [], across: [], [side]: steps }, words: `“No ${answer?.axes[side][field]?.heading.toLowerCase()}”` });
  }

  return (
    <ShelfDrag spec={spec} change={alter}>
      <div className="flex h-full">
        <FieldsNav spec={spec} table={table} change={alter} query={query} />
        <section className="flex min-w-0 flex-1 flex-col gap-3 px-5 pt-4">
          <SavedHeader
            object={object}
            history={{ undo, redo, canUndo, canRedo }}
            deeds={[
              ...PIVOT_FORMATS.map((format) => ({
                words: format === "pdf" ? "Print to PDF" : `Export ${format.toUpperCase()}`,
                disabled: !plan,
                act: () => makeFile("/api/pivots/export", { spec, values: {}, name: stored.name }, format),
              })),
              { words: "Draw as chart", disabled: !plan, act: () => void makeFrom("/api/charts/new", "/charts", { pivot: spec, name: stored.name }) },
              {
                words: "Use in report",
                disabled: !plan,
                act: () => void makeFrom("/api/report/new", "/reports", { values: {}, closing: [{ kind: "pivot", id: stored.id }] }),
              },
              { words: "Turn down and across round", act: () => alter({ ...spec, down: spec.across, across: spec.down, shut: [] }) },
            ]}
          />
          {inner.ok && table && <PivotBuilder spec={spec} inner={inner.value} table={table} change={alter} problems={problems} answer={answer} />}
          {problems.length > 0 && (
            <Notice tone="wrong">
              {problems.map((p) => sentence(p)).join(" ")} <TooMany problems={problems} spec={spec} change={alter} />
              {problems.some((p) => p.code === "pivotEmpty") && table && (
                <button
                  type="button"
                  className="link"
                  onClick={() =>
                    alter(
                      spec.down.length + spec.across.length === 0
                        ? firstPivot(spec, table, (c) => isNumber(c.type) && c.format?.grouping !== false)
                        : addCount(spec),
                    )
                  }
                >
                  {spec.down.length + spec.across.length === 0 ? "Begin with a proposal" : "Count the rows"}
                </button>
              )}
            </Notice>
          )}
          {failure && problems.length === 0 && <Notice tone="wrong">{failure.message}</Notice>}
          {cell && plan && inner.ok ? (
            <CellRows
              key={JSON.stringify(cell.pick)}
              question={{ spec: query.spec, values, cell: { ...cell.pick, pivot: settled } }}
              plan={planCellRows(plan, cell.pick)}
              words={cell.words}
              name={stored.name}
              back={() => setCell(null)}
            />
          ) : answer && shown ? (
            <>
              <PivotGrid pivot={answer} spec={shown} label={stored.name} onOpen={open} onToggle={(path) => change(toggleShut(spec, path))} />
              <div className="-mx-5 flex h-9 shrink-0 items-center justify-between gap-4 border-t border-rule px-5 text-small whitespace-nowrap text-soft">
                <span className="max-md:truncate">
                  {running ? "Counting…" : counted(answer.proof.rows.query, "row", locale)} · {counted(answer.down.length - 1, "heading", locale)} down ·{" "}
                  {answer.across.length - 1} across
                </span>
                <HeatLegend pivot={answer} spec={shown} />
                <span className="min-w-0 truncate max-lg:hidden">double-click a figure, or press Enter, for the rows behind it</span>
              </div>
            </>
          ) : (
            <div className="mb-9 flex-1 border border-rule bg-sheet p-6 text-soft">
              {running && planned.ok ? <span className="appear-late">Counting…</span> : null}
            </div>
          )}
        </section>
        <Margin
          parts={[
            { name: "Proof", content: <PivotProof question={answered} pivot={shown ? answer : null} spec={shown ?? settled} onEmpties={openEmpties} /> },
            {
              name: "Settings",
              content: (
                <div className="grid gap-3">
                  <label className="flex gap-2">
                    <input
                      type="checkbox"
                      className="accent-bottle"
                      checked={spec.totals.down}
                      onChange={(e) => change({ ...spec, totals: { ...spec.totals, down: e.target.checked } })}
                    />
                    A line over all rows
                  </label>
                  <label className="flex gap-2">
                    <input
                      type="checkbox"
                      className="accent-bottle"
                      checked={spec.totals.across}
                      onChange={(e) => change({ ...spec, totals: { ...spec.totals, across: e.target.checked } })}
                    />
                    A column over all columns
                  </label>
                  <label className="grid gap-0.5">
                    <span>Shade cells by the size of</span>
                    <select className="field" value={spec.heat ?? ""} onChange={(e) => change({ ...spec, heat: e.target.value || null })}>
                      <option value="">nothing</option>
                      {spec.figures
                        .map((figure) => figureChip(figure, table ?? NO_TABLE))
                        .map((f) => (
                          <option key={f.id} value={f.id}>
                            {f.words}, {f.more}
                          </option>
                        ))}
                    </select>
                  </label>
                  {spec.shut.length > 0 && (
                    <button type="button" className="link justify-self-start" onClick={() => change({ ...spec, shut: [] })}>
                      Unfold all groups
                    </button>
                  )}
                  {inner.ok && (
                    <BoundParameters
                      parameters={plan?.plan.parameters ?? inner.value.parameters}
                      bound={spec.parameters}
                      change={(parameters) => alter({ ...spec, parameters })}
                    />
                  )}
                </div>
              ),
            },
            {
              name: "SQL",
              content: (
                <SqlPanel
                  plan={
                    plan &&
                    groupingPlan(
                      plan,
                      plan.down.map((a) => a.column),
                      plan.across.map((a) => a.column),
                      plan.figures.filter(merges),
                    )
                  }
                />
              ),
            },
          ]}
        />
      </div>
    </ShelfDrag>
  );
}
