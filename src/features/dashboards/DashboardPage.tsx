"use client";

import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import { filtersText } from "@/core/brief/dashboardBrief";
import { valueFor } from "@/core/dashboard/filters";
import { valuesOfMark } from "@/core/dashboard/narrowBy";
import { DASHBOARD_FORMATS, type DashboardFormat, type DashboardSpec, type FilterValue, type FilterValues, type PlainTile } from "@/core/dashboard/spec";
import type { Schema } from "@/core/schema/schema";
import type { Sources } from "@/server/dashboards/sources";
import { useUndo } from "@/ui/useUndo";
import { ask, sentenceOf } from "../ask";
import { type Deed, DeedsMenu, makeFile } from "../DeedsMenu";
import type { SavedObject } from "../keptObject";
import { CellRows } from "../pivots/CellRows";
import { SavedName } from "../SavedName";
import { useLocale } from "../shell/Shell";
import { UndoButtons } from "../UndoButtons";
import { useSavedObject } from "../useSavedObject";
import { ArrangeGrid } from "./ArrangeGrid";
import { ArrangePanel } from "./ArrangePanel";
import { FiltersBrief } from "./FiltersBrief";
import { ROW, TileGrid, useNarrow } from "./TileGrid";
import { queryOfTile, rowsOfTile, type TileRows } from "./tileRows";
import { type Desk, TileFrame } from "./tiles";
import type { Asks } from "./useTile";

type Props = {
  saved: SavedObject<DashboardSpec>;
  own: FilterValues;
  sources: Sources;
  schema: Schema;
  today: string;
  viewer: string;
  colours: Record<string, number>;
  /** Whether it is only looked at: what is asked then names what is saved. */
  looking?: boolean;
};

const FORMAT_WORDS: Record<DashboardFormat, string> = {
  pdf: "Print to PDF",
  xlsx: "Export as a workbook (XLSX)",
  png: "Save as a picture (PNG)",
};
const KEEP_MS = 400;

/** A dashboard as its viewer has it: the brief of filters, the tiles, and, to those who arrange it, how they are arranged. */
export function DashboardPage({ saved, own, sources, schema, today, viewer, colours, looking = false }: Props) {
  const locale = useLocale();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const { stored, changed, save, remove, rename } = useSavedObject("dashboard", "/dashboards", saved, spec, change);
  const [values, setValues] = useState<FilterValues>(own);
  const [arranging, setArranging] = useState(saved.spec.tiles.length === 0 && !looking);
  const [selected, setSelected] = useState<string | null>(null);
  const [turn, setTurn] = useState(0);
  const [readAt, setReadAt] = useState("");
  const [figures, setFigures] = useState<Record<string, string>>({});
  const [rows, setRows] = useState<TileRows | null>(null);
  const page = useRef<HTMLDivElement>(null);
  const narrow = useNarrow();
  const partial = schema.tables.filter((t) => t.partial).map((t) => t.label);

  useEffect(() => {
    setReadAt(new Intl.DateTimeFormat(locale.locale, { timeStyle: "short", timeZone: locale.zone }).format(new Date()));
  }, [turn, values, locale]);
  useEffect(() => {
    if (spec.refresh === null) return;
    const timer = setInterval(() => setTurn((n) => n + 1), spec.refresh * 60_000);
    return () => clearInterval(timer);
  }, [spec.refresh]);
  // What a viewer chooses is kept for them, a moment after they have chosen it.
  const first = useRef(true);
  useEffect(() => {
    if (first.current) {
      first.current = false;
      return;
    }
    const timer = setTimeout(() => {
      ask("/api/dashboards/values", { dashboard: stored.id, values }).catch((error) => toast.error(sentenceOf(error)));
    }, KEEP_MS);
    return () => clearTimeout(timer);
  }, [values, stored.id]);

  const setFilter = (id: string, value: FilterValue | null) => {
    setRows(null);
    setValues((v) => ({ ...v, [id]: value }));
  };
  const choose = (next: FilterValues) => {
    setRows(null);
    setValues(next);
  };
  const tellFigure = useCallback(
    (title: string, words: string) => setFigures((f) => (f[title.toLowerCase()] === words ? f : { ...f, [title.toLowerCase()]: words })),
    [],
  );

  const asks = useMemo(
    (): Asks | null =>
      looking
        ? {
            tile: { path: "/api/dashboards/tile", body: (question) => ({ object: saved.id, ...question }) },
            choices: { path: "/api/dashboards/choices", body: (filter) => ({ object: saved.id, filter }) },
          }
        : null,
    [looking, saved.id],
  );
  const openRows: Desk["openRows"] = (answer, words, at) =>
    setRows(rowsOfTile(answer, words, schema, today, at, looking ? { object: saved.id, values } : null));
  const narrowBy: NonNullable<Desk["onMark"]>["act"] = (tile, answer, mark, drawn) => {
    if (!("pivot" in answer.answer)) return;
    const found = valuesOfMark(spec, tile.id, answer.query, answer.answer.pivot, answer.spec.pivot, drawn, mark);
    if (Object.keys(found).length === 0) return void toast("No filter of this dashboard is on what this mark stands for.");
    setValues((v) => ({ ...v, ...found }));
  };
  const filters = filtersText({ spec, values, schema, locale });
  const desk: Desk = {
    spec,
    asks,
    values,
    filters,
    turn,
    today,
    viewer,
    chosen: colours,
    openRows,
    onMark: { does: "narrows the tiles by one", act: narrowBy },
    figures,
    tellFigure,
  };
  const queryOf = useCallback((tile: PlainTile) => queryOfTile(sources, tile), [sources]);
  const asked = spec.filters.some((f) => valueFor(f, values) !== null);
  const moved = spec.filters.some((f) => values[f.id] !== undefined && JSON.stringify(values[f.id]) !== JSON.stringify(f.default));
  const deeds: Deed[] = [
    ...DASHBOARD_FORMATS.map((format) => ({
      words: FORMAT_WORDS[format],
      disabled: spec.tiles.length === 0,
      act: () => makeFile("/api/dashboards/export", { ...(looking ? { object: saved.id } : { spec }), values, name: stored.name }, format),
    })),
    { words: "Print", act: () => window.print() },
    {
      words: "Full screen",
      act: () => void page.current?.requestFullscreen().catch(() => toast("This browser does not show pages on the full screen.")),
    },
  ];

  return (
    <div className="print-flow flex h-full" ref={page}>
      <section className="print-flow flex min-w-0 flex-1 flex-col overflow-auto bg-paper">
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2 px-10 pt-4 max-md:px-4">
          {looking ? <h1 className="font-serif text-title font-semibold">{stored.name}</h1> : <SavedName id={stored.id} name={stored.name} onRename={rename} />}
          <span className="text-soft">
            read at {readAt} · as {viewer}
            {partial.length > 0 && ` · of ${partial.join(", ")} the rows you may see`}
          </span>
          <span className="no-print ml-auto flex flex-wrap items-center gap-2">
            {arranging && <UndoButtons {...{ undo, redo, canUndo, canRedo }} />}
            <button type="button" className="button" onClick={() => setTurn(turn + 1)}>
              Refresh
            </button>
            <DeedsMenu deeds={deeds} />
            {!looking && (
              <button type="button" className="button" aria-pressed={arranging} onClick={() => setArranging(!arranging)}>
                {arranging ? "Done arranging" : "Arrange"}
              </button>
            )}
            {(arranging || changed) && (
              <button type="button" className="button-primary" disabled={!changed} onClick={save}>
                Save
              </button>
            )}
          </span>
        </div>
        <div className="border-b border-ink px-10 pt-1 pb-2 max-md:px-4">
          <FiltersBrief spec={spec} values={values} schema={schema} asks={asks} set={setFilter}>
            {asked && <Step words="show everything" act={() => choose(Object.fromEntries(spec.filters.map((f) => [f.id, null])))} />}
            {moved && <Step words="as first shown" act={() => choose({})} />}
            {(asked || moved) && <span className="no-print pl-1 text-small text-soft">Only you see it this way.</span>}
          </FiltersBrief>
        </div>
        {rows ? (
          <div className="flex min-h-0 flex-1 flex-col gap-3 px-10 pt-4 max-md:px-4">
            <CellRows
              key={JSON.stringify(rows.question)}
              question={rows.question}
              plan={rows.plan}
              words={rows.words}
              name={rows.words}
              back={() => setRows(null)}
            />
          </div>
        ) : spec.tiles.length === 0 ? (
          <p className="px-10 py-8 text-soft">
            Nothing stands here yet. {arranging ? "Add the first tile on the right: a figure, a chart, a table." : "Press Arrange to add the first tile."}
          </p>
        ) : arranging && !narrow ? (
          <ArrangeGrid spec={spec} change={change} selected={selected} select={setSelected} rowHeight={ROW} tile={(t) => <TileFrame tile={t} desk={desk} />} />
        ) : (
          <TileGrid spec={spec} desk={desk} narrow={narrow} look={narrow ? "" : "mx-7"} />
        )}
      </section>
      {arranging && (
        <ArrangePanel
          spec={spec}
          change={change}
          selected={selected}
          select={setSelected}
          sources={sources}
          schema={schema}
          today={today}
          queryOf={queryOf}
          remove={remove}
        />
      )}
    </div>
  );
}

/** A step for all filters at once, after the brief. */
const Step = ({ words, act }: { words: string; act: () => void }) => (
  <>
    {" "}
    <button type="button" className="chip no-print" onClick={act}>
      {words}
    </button>
  </>
);
