"use client";

import type { DashboardSpec, FilterValues } from "@/core/dashboard/spec";
import type { TileAnswer } from "@/server/jobs/dashboards/tileAnswer";
import { ask } from "../ask";
import { useAnswer } from "../useAnswer";
import { type Asks, tileAsked } from "./tileAsked";

/** Asks for the values a filter offers. */
export const askChoices = (spec: DashboardSpec, asks: Asks | null, filter: string): Promise<string[]> =>
  asks ? ask(asks.choices.path, asks.choices.body(filter)) : ask("/api/dashboards/choices", { spec, filter });

/**
 * One tile's answer, asked for by itself: a slow tile holds up no other. The last one stays until the next is there.
 * @param turn counts refreshes
 */
export function useTile(spec: DashboardSpec, asks: Asks | null, tile: string, values: FilterValues, search: string, turn: number) {
  const { path, body } = tileAsked(spec, asks, tile, values, search);
  const { failure, ...answered } = useAnswer<TileAnswer>(path, body, { settleMs: 60, turn });
  return { ...answered, failure: failure?.message ?? "" };
}
