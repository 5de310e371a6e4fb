"use client";

import { useCallback, useEffect, useRef, useState } from "react";
import type { DashboardSpec, FilterValues } from "@/core/dashboard/spec";
import type { TileAnswer } from "@/server/dashboards/service";
import { ask, isAbort, sentenceOf } from "../ask";

export type TileState = { answer: TileAnswer | null; failure: string; running: boolean; stopped: boolean };

/** What of a dashboard a tile's answer depends on: itself, and the filters that meet it with the values they have. */
function dependsOn(spec: DashboardSpec, tile: string, values: FilterValues): string {
  const own = spec.tiles.flatMap((t) => (t.kind === "switch" ? t.tiles : [t])).find((t) => t.id === tile);
  const filters = spec.filters
    .filter((f) => f.meets[tile])
    .map((f) => [f.table, f.column, f.meets[tile], values[f.id] === undefined ? f.default : values[f.id]]);
  return JSON.stringify([{ ...own, title: "", note: "" }, filters]);
}

/**
 * One tile's answer, asked for by itself: a slow tile holds up no other. The last one stays until the next is there.
 * @param turn counts refreshes
 */
export function useTile(spec: DashboardSpec, tile: string, values: FilterValues, search: string, turn: number) {
  const [state, setState] = useState<TileState>({ answer: null, failure: "", running: true, stopped: false });
  const abort = useRef<AbortController | null>(null);
  const latest = useRef({ spec, values });
  latest.current = { spec, values };
  const key = dependsOn(spec, tile, values);
  const start = useCallback(() => {
    abort.current?.abort();
    const mine = new AbortController();
    abort.current = mine;
    setState((s) => ({ ...s, running: true, stopped: false, failure: "" }));
    ask<TileAnswer>("/api/dashboards/tile", { ...latest.current, tile, search }, { signal: mine.signal }).then(
      (answer) => abort.current === mine && setState({ answer, failure: "", running: false, stopped: false }),
      (error) => {
        if (abort.current === mine && !isAbort(error)) setState({ answer: null, failure: sentenceOf(error), running: false, stopped: false });
      },
    );
  }, [tile, search]);
  useEffect(() => {
    const timer = setTimeout(start, 60);
    return () => {
      clearTimeout(timer);
      abort.current?.abort();
    };
  }, [key, turn, start]);
  const stop = useCallback(() => {
    abort.current?.abort();
    setState((s) => ({ ...s, running: false, stopped: true }));
  }, []);
  return { ...state, stop, again: start };
}
