"use client";

import dynamic from "next/dynamic";
import { useEffect, useMemo, useState } from "react";
import { filtersText } from "@/core/brief/dashboardBrief";
import type { FilterValues } from "@/core/dashboard/spec";
import type { SearchSpec } from "@/core/page/spec";
import type { Page } from "@/core/report/page";
import type { About } from "@/server/pages/answer";
import { Notice } from "@/ui/Notice";
import { FiltersBrief } from "../dashboards/FiltersBrief";
import { TileGrid, useNarrow } from "../dashboards/TileGrid";
import type { Desk } from "../dashboards/tiles";
import type { Asks } from "../dashboards/useTile";
import { useTold } from "../dashboards/useTold";
import { PageList, Pager } from "../reports/PagedView";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import type { Asking } from "./asking";

const SearchView = dynamic(() => import("./SearchView").then((m) => m.SearchView));

type Props = { asking: Asking; changes?: { may: NonNullable<SearchSpec["changes"]>; path: string } | null };

/** What a page shows below its title, whatever it is of; asked for where it may be. */
export function PageBody({ asking, changes = null, onAbout }: Props & { onAbout?: (about: About) => void }) {
  const place = JSON.stringify(asking);
  const { answer: about, failure } = useAnswer<About>(asking.path, { ...asking.with, question: { ask: "about" } }, 60);
  useEffect(() => {
    if (about) onAbout?.(about);
  }, [about, onAbout]);
  if (failure) return <Notice tone="wrong">{failure.message}</Notice>;
  if (!about) return <p className="text-soft">{COMMON.loading}</p>;
  const key = `${place} ${about.kind}`;
  switch (about.kind) {
    case "search":
      return <SearchView key={`${key} ${JSON.stringify(about.form)}`} asking={asking} about={about} changes={changes} />;
    case "report":
      return <PagesOf key={key} asking={asking} />;
    case "dashboard":
      return <TilesOf key={key} asking={asking} about={about} />;
    default:
      return about satisfies never;
  }
}

function PagesOf({ asking }: { asking: Asking }) {
  const [at, setAt] = useState(0);
  const { answer, failure } = useAnswer<{ pages: Page[]; count: number }>(asking.path, { ...asking.with, question: { ask: "pages", at } }, 60);
  if (failure) return <Notice tone="wrong">{failure.message}</Notice>;
  return (
    <div className="grid gap-3">
      {answer && (
        <>
          <div className="flex justify-center">
            <Pager noun="page" at={at} count={answer.count} go={setAt} />
          </div>
          <PageList pages={answer.pages} />
        </>
      )}
    </div>
  );
}

/** A dashboard for visitors: the brief of its filters, their values kept nowhere, and its tiles. */
function TilesOf({ asking, about }: { asking: Asking; about: Extract<About, { kind: "dashboard" }> }) {
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
