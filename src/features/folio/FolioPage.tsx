"use client";

import { useRouter } from "next/navigation";
import { useEffect, useMemo, useState } from "react";
import { toast } from "sonner";
import * as edit from "@/core/folio/edit";
import { linkPanel, type RowCells, rowQuery, tablePanel } from "@/core/folio/panel";
import { belongsTo } from "@/core/folio/shown";
import type { FolioSpec, Panel, Shown } from "@/core/folio/spec";
import type { LetterSpec } from "@/core/letter/spec";
import type { PivotFigure } from "@/core/pivot/spec";
import { operandTypeIn } from "@/core/query/edit";
import { type Schema, stepsFrom, type Table } from "@/core/schema/schema";
import { cellWriter, writeCount } from "@/core/types/format";
import { isMisfit, isNumber, text as textType } from "@/core/types/valueType";
import type { Sources } from "@/server/dashboards/sources";
import { BriefPopover } from "@/ui/Brief";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { sentenceOf } from "../ask";
import { makeFile } from "../DeedsMenu";
import type { SavedObject } from "../keptObject";
import { Link } from "../Link";
import { Choice } from "../queries/editors/parts";
import { useLocale } from "../shell/Shell";
import { UndoButtons } from "../UndoButtons";
import { useSavedObject } from "../useSavedObject";
import { FolioPanel } from "./FolioPanel";
import { FolioShown } from "./FolioShown";
import { useQueryOnce } from "./useQueryOnce";
import { findWalk, folioAt, type Walk } from "./walk";

type Props = {
  table: Table;
  schema: Schema;
  today: string;
  rowKey: string[];
  walk: string;
  at: number | null;
  saved: { id: string | null; spec: FolioSpec; revision: number };
  sources: Sources;
  colours: Record<string, number>;
  /** Letters that are written to rows of this table. */
  letters: SavedObject<LetterSpec>[];
};

/** The page of one row: its fields, and the rows that belong to it. */
export function FolioPage({ table, schema, today, rowKey, walk: walkId, at, saved, sources, colours, letters }: Props) {
  const router = useRouter();
  const locale = useLocale();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const { edited, save } = useSavedObject("folio", "/tables", { ...saved, name: table.name }, spec, change, {
    place: table.name,
    words: `The folio of ${table.label}`,
  });
  const [walk, setWalk] = useState<Walk | null>(null);
  useEffect(() => setWalk(findWalk(walkId)), [walkId]);
  const query = useMemo(() => rowQuery(table, rowKey), [table, rowKey.join("\u0000")]);
  const { plan, rows, failure } = useQueryOnce(query, schema, today, {}, 1);
  const row = rows?.[0];
  const cells: RowCells | null = row && plan ? Object.fromEntries(plan.columns.map((c, i) => [c.id, row[i] ?? null])) : null;
  const heading = edit.rowName(table, cells, rowKey);

  async function go(place: number): Promise<void> {
    if (!walk) return;
    const to = await folioAt(table.name, walk, walkId, place).catch((error) => void toast.error(sentenceOf(error)));
    if (to) router.push(to);
  }
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!event.altKey || at === null || !walk) return;
      if (event.key === "ArrowLeft" && at > 0) void go(at - 1);
      else if (event.key === "ArrowRight" && at < walk.rows - 1) void go(at + 1);
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });

  const shown = spec.shown ?? [];
  const freshId = () => edit.freshPanelId(spec);

  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto max-w-6xl px-8 py-5">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-2 pb-4">
          <h1 className="font-serif text-title font-semibold">{heading}</h1>
          <Link href={walk?.back ?? `/tables/${encodeURIComponent(table.name)}`} className="text-small text-soft hover:text-ink">
            {table.label} · {walk ? `back to ${walk.label}` : "all rows"}
          </Link>
          <span className="ml-auto flex items-center gap-2">
            {walk && at !== null && (
              <>
                <button type="button" className="button" aria-label="Previous row" disabled={at === 0} onClick={() => void go(at - 1)}>
                  ‹
                </button>
                <span className="text-small text-soft">
                  {writeCount(at + 1, locale)} of {writeCount(walk.rows, locale)}
                </span>
                <button type="button" className="button" aria-label="Next row" disabled={at >= walk.rows - 1} onClick={() => void go(at + 1)}>
                  ›
                </button>
              </>
            )}
            <UndoButtons {...{ undo, redo, canUndo, canRedo }} />
            {letters.length > 0 && (
              <BriefPopover label="Letter ▾" className="button">
                {(close) =>
                  letters.map((letter) => (
                    <Choice
                      key={letter.id}
                      onClick={() => {
                        close();
                        makeFile("/api/letters/export", { spec: letter.spec, key: rowKey, name: `${letter.name}, ${heading}` }, "pdf");
                      }}
                    >
                      {letter.name}
                    </Choice>
                  ))
                }
              </BriefPopover>
            )}
            <BriefPopover label="Add a panel ▾" className="button">
              {(close) => (
                <AddPanel
                  table={table}
                  schema={schema}
                  freshId={freshId}
                  add={(panel) => {
                    if (panel) change(edit.addPanel(spec, panel));
                    close();
                  }}
                  sources={sources}
                  show={(next) => {
                    change(edit.addShown(spec, next));
                    close();
                  }}
                />
              )}
            </BriefPopover>
            <button type="button" className="button-primary" disabled={!edited} onClick={save}>
              Save folio
            </button>
          </span>
        </div>
        {failure && <Notice tone="wrong">{failure}</Notice>}
        {rows?.length === 0 && <Notice tone="look">This row is gone. It may have been removed, or its key changed; the journal shows when.</Notice>}
        {cells && plan && (
          <>
            <dl className="grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-x-8 border-t border-b-[3px] border-ink py-2 [border-bottom-style:double]">
              {plan.columns.map((c) => {
                const written = cellWriter(c.type, c.format, locale)(cells[c.id] ?? null);
                const tone = isMisfit(cells[c.id] ?? null) || written.negative ? "text-vermilion" : "";
                return (
                  <div key={c.id} className="flex items-baseline justify-between gap-3 border-b border-hairline py-1">
                    <dt className={`shrink-0 text-small ${c.derived ? "text-plum" : "text-soft"}`} title={c.origin}>
                      {c.heading}
                    </dt>
                    <dd className={`text-right ${tone}`}>
                      <FieldValue text={written.text} to={written.text === "" ? null : folioOf(schema, table, c.id, cells)} />{" "}
                      {c.unit && written.text ? <span className="text-small text-soft">{c.unit}</span> : null}
                    </dd>
                  </div>
                );
              })}
            </dl>
            {shown.map((s) => (
              <FolioShown
                key={`${s.id} ${rowKey.join(" ")}`}
                shown={s}
                {...{ table, cells, schema, today, sources, colours }}
                remove={() => change(edit.removeShown(spec, s.id))}
              />
            ))}
            {spec.panels.map((panel, i) => (
              <FolioPanel
                key={`${panel.id} ${rowKey.join(" ")}`}
                panel={panel}
                table={table}
                cells={cells}
                schema={schema}
                today={today}
                first={i === 0}
                heading={heading}
                onChange={(next) => change(edit.setPanel(spec, panel.id, next))}
                onMove={(by) => change(edit.movePanel(spec, panel.id, by))}
              />
            ))}
            {spec.panels.some((p) => p.hideEmpty) && <p className="pt-6 text-small text-faint">Panels that have no row here are not shown.</p>}
            {spec.panels.length === 0 && <p className="py-6 text-soft">No panel stands here. Add one to see the rows that belong to this one.</p>}
          </>
        )}
      </div>
    </div>
  );
}

/** A value; where it names a row elsewhere, the way to that row's folio. */
function FieldValue({ text, to }: { text: string; to: string | null }) {
  if (text === "") return <span className="text-faint">–</span>;
  return to ? (
    <Link className="link" href={to}>
      {text}
    </Link>
  ) : (
    text
  );
}

/** The address of the folio of the row that a column leads to; null where it leads to none. */
function folioOf(schema: Schema, table: Table, column: string, cells: RowCells): string | null {
  const led = edit.rowLedTo(schema, table, column, cells);
  return led && `/tables/${encodeURIComponent(led.table)}/folio?k=${encodeURIComponent(led.key)}`;
}

/** What a panel can show: rows by a link, by the same value, or of any table. */
function AddPanel({
  table,
  schema,
  freshId,
  add,
  sources,
  show,
}: {
  table: Table;
  schema: Schema;
  freshId: () => string;
  add: (panel: Panel | null) => void;
  sources: Sources;
  show: (next: Shown) => void;
}) {
  const queries = sources.queries.filter((q) => belongsTo(schema, q.spec, table));
  const charts = sources.charts.filter((c) => queries.some((q) => q.id === c.spec.query));
  const figure = (query: string, title: string, of: PivotFigure): Shown => ({
    id: freshId(),
    title,
    note: "",
    kind: "figure",
    query,
    figure: of,
    compare: null,
    lessIsBetter: false,
  });
  const steps = stepsFrom(schema, table.name);
  return (
    <>
      <p className="caption pb-1">Rows that a link leads to</p>
      {steps.map(({ step, far }) => (
        <Choice key={`${step.link} ${step.toward}`} onClick={() => add(linkPanel(schema, step, freshId()))}>
          {far.leadsTo} {far.name}
        </Choice>
      ))}
      {charts.length > 0 && <p className="caption pt-2 pb-1">Charts of rows that belong to it</p>}
      {charts.map((c) => (
        <Choice key={c.id} onClick={() => show({ id: freshId(), title: c.name, note: "", kind: "chart", chart: c.id })}>
          {c.name}
        </Choice>
      ))}
      {queries.length > 0 && <p className="caption pt-2 pb-1">Figures over rows that belong to it</p>}
      {queries.flatMap((q) => [
        <Choice key={`${q.id} rows`} onClick={() => show(figure(q.id, `${q.name}, rows`, { id: "f", value: null, figure: "count", showAs: "asIs" }))}>
          {q.name}, rows
        </Choice>,
        ...q.spec.columns
          .filter((c) => c.value !== null && isNumber(operandTypeIn(q.spec, schema, c.value) ?? textType))
          .map((c) => {
            const title = `${q.name}, total of ${c.label ?? c.id}`;
            return (
              <Choice
                key={title}
                onClick={() => show(figure(q.id, title, { id: "f", value: { kind: "field", join: "", column: c.id }, figure: "total", showAs: "asIs" }))}
              >
                {title}
              </Choice>
            );
          }),
      ])}
      <p className="caption pt-2 pb-1">Rows with the same value in</p>
      {table.columns
        .filter((c) => !table.key.includes(c.name) && !c.derived?.broken)
        .map((c) => (
          <Choice key={c.name} onClick={() => add(tablePanel(schema, table, { kind: "same", column: c.name, itself: false }, freshId()))}>
            {c.label}
          </Choice>
        ))}
      <p className="caption pt-2 pb-1">Rows of a table, by your own conditions</p>
      {schema.tables.map((t) => (
        <Choice key={t.name} onClick={() => add(tablePanel(schema, t, { kind: "all" }, freshId()))}>
          {t.label}
        </Choice>
      ))}
    </>
  );
}
