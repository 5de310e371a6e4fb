"use client";

import { useMemo, useState } from "react";
import { filtersText } from "@/core/brief/dashboardBrief";
import type { FilterValues } from "@/core/dashboard/spec";
import type { About } from "@/server/services/pages/answer";
import { FiltersBrief } from "../dashboards/FiltersBrief";
import { TileGrid, useNarrow } from "../dashboards/TileGrid";
import type { Asks } from "../dashboards/tileAsked";
import type { Desk } from "../dashboards/tiles";
import { useTold } from "../dashboards/useTold";
import { useLocale } from "../workspace/locale";
import type { Asking } from "./asking";

/** A dashboard for visitors: the brief of its filters, their values kept nowhere, and its tiles. */
export function TilesView({ asking, about }: { asking: Asking; about: Extract<About, { kind: "dashboard" }> }) {
  const { spec, schema, colours, today } = about;
  const [values, setValues] = useState<FilterValues>({});
  const [figures, tellFigure] = useTold();
  const [asked, tellAsked] = useTold();
  const narrow = useNarrow();
  const place = JSON.stringify(asking);
  const asks = useMemo((): Asks => {
    const at = JSON.parse(place) as Asking;
    const body = (question: object) => ({ ...at.with, question });
    return {
      tile: { path: at.path, body: (question) => body({ ask: "tile", ...question }) },
      choices: { path: at.path, body: (filter) => body({ ask: "choices", field: filter }) },
    };
  }, [place]);
  const filters = filtersText({ spec, values, schema, locale: useLocale() });
  const desk: Desk = {
    spec,
    asks,
    values,
    filters,
    turn: 0,
    today,
    viewer: "",
    chosen: colours,
    openRows: null,
    onMark: null,
    figures,
    tellFigure,
    asked,
    tellAsked,
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3">
      {spec.filters.length > 0 && (
        <FiltersBrief spec={spec} values={values} schema={schema} asks={asks} set={(id, value) => setValues((all) => ({ ...all, [id]: value }))} />
      )}
      <TileGrid spec={spec} desk={desk} narrow={narrow} look="border-t border-l border-column bg-paper" />
    </div>
  );
}
