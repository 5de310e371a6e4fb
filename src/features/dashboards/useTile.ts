"use client";

import { useCallback, useEffect, useRef, useState } from "react";
import type { DashboardSpec, FilterValues } from "@/core/dashboard/spec";
import { emptyDashboard, plainTiles } from "@/core/dashboard/tiles";
import type { TileAnswer } from "@/server/dashboards/tileAnswer";
import { ask, isAbort, sentenceOf } from "../ask";

/** Where a dashboard that is only looked at is asked about: what is sent names it, and is worked out there. */
export type Asks = {
  tile: { path: string; body: (question: object) => object };
  choices: { path: string; body: (filter: string) => object };
};

/** Asks for the values a filter offers. */
export const askChoices = (spec: DashboardSpec, asks: Asks | null, filter: string): Promise<string[]> =>
  asks ? ask(asks.choices.path, asks.choices.body(filter)) : ask("/api/dashboards/choices", { spec, filter });

export type TileState = { answer: TileAnswer | null; failure: string; running: boolean; stopped: boolean };

/** What of a dashboard a tile's answer depends on: itself, and the filters that meet it with the values they have. */
function questionOf(spec: DashboardSpec, id: string, values: FilterValues): { spec: DashboardSpec; tile: string; values: FilterValues } {
  const tile = plainTiles(spec).find((t) => t.id === id);
  const filters = spec.filters.flatMap((f) => (f.meets[id] ? [{ ...f, label: f.id, meets: { [id]: f.meets[id] } }] : []));
  const own = Object.fromEntries(filters.flatMap((f) => (values[f.id] === undefined ? [] : [[f.id, values[f.id] ?? null]])));
  return { spec: { ...emptyDashboard(), tiles: tile ? [{ ...tile, title: "", note: "" }] : [], filters }, tile: id, values: own };
}

/**
 * One tile's answer, asked for by itself: a slow tile holds up no other. The last one stays until the next is there.
 * @param turn counts refreshes
 */
export function useTile(spec: DashboardSpec, asks: Asks | null, tile: string, values: FilterValues, search: string, turn: number) {
  const [state, setState] = useState<TileState>({ answer: null, failure: "", running: true, stopped: false });
  const abort = useRef<AbortController | null>(null);
  const { spec: bare, ...question } = questionOf(spec, tile, values);
  const { path, body } = asks
    ? { path: asks.tile.path, body: asks.tile.body({ ...question, search }) }
    : { path: "/api/dashboards/tile", body: { spec: bare, ...question, search } };
  const key = JSON.stringify(body);
  const start = useCallback(() => {
    abort.current?.abort();
    const mine = new AbortController();
    abort.current = mine;
    setState((s) => ({ ...s, running: true, stopped: false, failure: "" }));
    ask<TileAnswer>(path, JSON.parse(key), { signal: mine.signal }).then(
      (answer) => abort.current === mine && setState({ answer, failure: "", running: false, stopped: false }),
      (error) => {
        if (abort.current === mine && !isAbort(error)) setState({ answer: null, failure: sentenceOf(error), running: false, stopped: false });
      },
    );
  }, [path, key]);
  useEffect(() => {
    const timer = setTimeout(start, 60);
    return () => {
      clearTimeout(timer);
      abort.current?.abort();
    };
  }, [turn, start]);
  const stop = useCallback(() => {
    abort.current?.abort();
    setState((s) => ({ ...s, running: false, stopped: true }));
  }, []);
  return { ...state, stop, again: start };
}
