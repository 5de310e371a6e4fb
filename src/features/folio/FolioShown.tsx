"use client";

import { useCallback, useMemo, useState } from "react";
import type { RowCells } from "@/core/folio/panel";
import { shownOf } from "@/core/folio/shown";
import type { Shown } from "@/core/folio/spec";
import type { Schema, Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import type { Sources } from "@/server/services/dashboards/sources";
import { Notice } from "@/ui/Notice";
import { queryOfTile, rowsOfTile, type TileRows } from "../dashboards/tileRows";
import { type Desk, TileBody } from "../dashboards/tiles";
import { CellRows } from "../pivots/CellRows";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Props = {
  shown: Shown;
  table: Table;
  cells: RowCells;
  schema: Schema;
  today: Today;
  sources: Sources;
  colours: Record<string, number>;
  remove: () => void;
};

/** A chart or a figure over the rows that belong to the row; a mark or the figure opens them. */
export function FolioShown({ shown, table, cells, schema, today, sources, colours, remove }: Props) {
  const [rows, setRows] = useState<TileRows | null>(null);
  const query = queryOfTile(sources, shown);
  const spec = useMemo(() => (query ? shownOf(shown, query, table, cells, schema) : null), [query, shown, table, cells, schema]);
  const tellFigure = useCallback(() => {}, []);
  const title = shown.title || COMMON.figure;
  const desk: Desk | null = spec && {
    spec,
    asks: null,
    values: {},
    filters: "",
    turn: 0,
    today,
    viewer: "",
    chosen: colours,
    figures: {},
    tellFigure,
    asked: {},
    tellAsked: tellFigure,
    openRows: (answer, words, at) => setRows(rowsOfTile(answer, words, schema, today, at)),
    onMark: { does: COMMON.opensItsRows, act: (_, answer) => setRows(rowsOfTile(answer, title, schema, today)) },
  };
  const body = rows ? (
    <div className="flex h-96 flex-col gap-2">
      <CellRows question={rows.question} plan={rows.plan} words={rows.words} name={title} back={() => setRows(null)} />
    </div>
  ) : (
    desk && (
      <div className={shown.kind === "chart" ? "h-72" : "max-w-xs"}>
        <TileBody tile={shown} desk={desk} />
      </div>
    )
  );
  return (
    <section className="pt-6" aria-label={title}>
      <div className="flex items-center gap-3 pb-1">
        <h2 className="font-serif text-[1.125rem] font-semibold">{title}</h2>
        <button type="button" className="ml-auto text-small font-semibold text-vermilion hover:underline" onClick={remove}>
          {COMMON.remove}
        </button>
      </div>
      {!desk && <Notice tone="wrong">{WORDS.theObjectOfThisPanel}</Notice>}
      {body}
    </section>
  );
}
