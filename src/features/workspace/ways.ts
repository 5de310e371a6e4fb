"use client";

import { createContext, useContext } from "react";
import { dayInZone } from "@/core/types/date";
import { useLocale } from "./locale";

/** What fields for typing need of the workspace beside its notation. */
export type Ways = {
  /** Today in the workspace; nothing where the page was not told. */
  day: string;
  /** The first day of its week, ISO 8601: Monday is 1. */
  weekStart: number;
  /** The day its business year begins on, "MM-DD". */
  yearStart: string;
  /** The currency new amounts are in, ISO 4217. */
  currency: string;
};
export const WaysContext = createContext<Ways>({ day: "", weekStart: 1, yearStart: "01-01", currency: "" });

/** Today, the first day of the week, and the currency, as the workspace has them. */
export function useWays(): Ways {
  const ways = useContext(WaysContext);
  const { zone } = useLocale();
  return { ...ways, day: ways.day || dayInZone(new Date(), zone) };
}
