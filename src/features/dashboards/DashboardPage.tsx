"use client";

import { useCallback, useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import { filtersText } from "@/core/brief/dashboardBrief";
import { DASHBOARD_FORMATS, type DashboardFormat } from "@/core/dashboard/choices";
import { isAsked, isMoved, showEverything } from "@/core/dashboard/filters";
import { valuesOfMark } from "@/core/dashboard/narrowBy";
import type { DashboardSpec, FilterValues, PlainTile } from "@/core/dashboard/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import type { Sources } from "@/server/services/dashboards/sources";
import { useUndo } from "@/ui/useUndo";
import { type Deed, makeFile } from "../DeedsMenu";
import type { SavedObject } from "../keptObject";
import { CellRows } from "../pivots/CellRows";
import { useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { ArrangeGrid } from "./ArrangeGrid";
import { ArrangePanel } from "./ArrangePanel";
import { DashboardHead } from "./DashboardHead";
import { FiltersBrief } from "./FiltersBrief";
import { ROW, TileGrid, useNarrow } from "./TileGrid";
import { asksOfSaved } from "./tileAsked";
import { queryOfTile, rowsOfTile, type TileRows } from "./tileRows";
import { type Desk, TileFrame } from "./tiles";
import { useFilterValues } from "./useFilterValues";
import { useSources } from "./useSources";
import { useTold } from "./useTold";
import { useTurns } from "./useTurns";
import { WORDS } from "./words";

type Props = {
  saved: SavedObject<DashboardSpec>;
  own: FilterValues;
  sources: Sources;
  schema: Schema;
  today: Today;
  viewer: string;
  colours: Record<string, number>;
  /** Whether it is only looked at: what is asked then names what is saved. */
  looking?: boolean;
  /** Whether it stands within another page, as on the desk. */
  within?: boolean;
};

const FORMAT_WORDS: Record<DashboardFormat, string> = {
  pdf: COMMON.printToPDF,
  xlsx: WORDS.exportXLSX,
  png: COMMON.savePicturePNG,
};

/** A dashboard as its viewer has it: the brief of filters, the tiles, and, to those who arrange it, how they are arranged. */
export function DashboardPage({ saved, own, sources: given, schema, today, viewer, colours, looking = false, within = false }: Props) {
  const locale = useLocale();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const object = useSavedObject("dashboard", "/dashboards", saved, spec, change);
  const { stored } = object;
  const [values, setValues] = useFilterValues(stored.id, own);
  const { turn, readAt, again } = useTurns(spec.refresh, values);
  const [arranging, setArranging] = useState(saved.spec.tiles.length === 0 && !looking);
  const [selected, setSelected] = useState<string | null>(null);
  const [figures, tellFigure] = useTold();
  const [asked, tellAsked] = useTold();
  const [rows, setRows] = useState<TileRows | null>(null);
  const page = useRef<HTMLDivElement>(null);
  const narrow = useNarrow();

  const choose: typeof setValues = (next) => {
    setRows(null);
    setValues(next);
  };
  const asks = useMemo(() => (looking ? asksOfSaved(saved.id) : null), [looking, saved.id]);
  const openRows: Desk["openRows"] = (answer, words, at) =>
    setRows(rowsOfTile(answer, words, schema, today, at, looking ? { object: saved.id, values } : null));
  const narrowBy: NonNullable<Desk["onMark"]>["act"] = (tile, answer, mark, drawn) => {
    if (!("pivot" in answer.answer)) return;
    const found = valuesOfMark(spec, tile.id, answer.query, answer.answer.pivot, answer.spec.pivot, drawn, mark);
    if (Object.keys(found).length === 0) return void toast(WORDS.thisDashboardHasNoFilter);
    setValues((v) => ({ ...v, ...found }));
  };
  const partial = schema.tables.filter((t) => t.partial).map((t) => t.label);
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
    onMark: { does: WORDS.filtersTheTilesByIt, act: narrowBy },
    figures,
    tellFigure,
    asked,
    tellAsked,
  };
  const { sources, ownQuery } = useSources(given);
  const queryOf = useCallback((tile: PlainTile) => queryOfTile(sources, tile), [sources]);
  const deeds: Deed[] = [
    ...DASHBOARD_FORMATS.map((format) => ({
      words: FORMAT_WORDS[format],
      disabled: spec.tiles.length === 0,
      act: () => makeFile("/api/dashboards/export", { ...(looking ? { object: saved.id } : { spec }), values, name: stored.name }, format),
    })),
    { words: WORDS.print, act: () => window.print() },
    {
      words: WORDS.fullScreen,
      act: () => void page.current?.requestFullscreen().catch(() => toast(WORDS.thisBrowserHasNoFull)),
    },
  ];

  return (
    <div className="print-flow flex h-full" ref={page}>
      <section className="print-flow flex min-w-0 flex-1 flex-col overflow-auto bg-paper">
        <DashboardHead
          object={object}
          looking={looking}
          within={within}
          history={arranging ? { undo, redo, canUndo, canRedo } : null}
          deeds={deeds}
          arranging={arranging}
          arrange={setArranging}
          again={again}
        >
          {WORDS.updated(readAt, viewer, partial.length > 0 ? WORDS.ofTheRowsYouMay(partial.join(", ")) : "")}
        </DashboardHead>
        <div className="border-b border-ink px-10 pt-1 pb-2 max-md:px-4">
          <FiltersBrief spec={spec} values={values} schema={schema} asks={asks} set={(id, value) => choose((v) => ({ ...v, [id]: value }))}>
            <AllFilters spec={spec} values={values} choose={choose} />
          </FiltersBrief>
        </div>
        {rows ? (
          <div className="flex min-h-0 flex-1 flex-col gap-3 px-10 pt-4 max-md:px-4">
            <CellRows
              key={JSON.stringify(rows.question)}
              question={rows.question}
              plan={rows.plan}
              words={rows.words}
              asOf={rows.asOf}
              name={rows.words}
              back={() => setRows(null)}
            />
          </div>
        ) : spec.tiles.length === 0 ? (
          <p className="px-10 py-8 text-soft">{WORDS.noTilesYet(arranging ? WORDS.addTheFirstOneOn : WORDS.chooseEditLayoutToAdd)}</p>
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
          ownQuery={ownQuery}
          schema={schema}
          today={today}
          queryOf={queryOf}
          remove={object.remove}
        />
      )}
    </div>
  );
}

/** What can be done to all filters at once, after the brief. */
function AllFilters({ spec, values, choose }: { spec: DashboardSpec; values: FilterValues; choose: (next: FilterValues) => void }) {
  const asked = isAsked(spec, values);
  const moved = isMoved(spec, values);
  const step = (words: string, to: FilterValues) => (
    <>
      {" "}
      <button type="button" className="chip no-print" onClick={() => choose(to)}>
        {words}
      </button>
    </>
  );
  return (
    <>
      {asked && step(WORDS.clearFilters, showEverything(spec))}
      {moved && step(WORDS.resetFilters, {})}
      {(asked || moved) && <span className="no-print pl-1 text-small text-soft">{WORDS.yourFiltersAreVisibleOnly}</span>}
    </>
  );
}
