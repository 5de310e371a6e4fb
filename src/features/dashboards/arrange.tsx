import type { ReactNode } from "react";
import type { DashboardSpec, PlainTile, TileKind } from "@/core/dashboard/spec";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import type { Sources } from "@/server/services/dashboards/sources";
import { COMMON } from "../words";
import { WORDS } from "./words";

/** What every part of the margin works on while a dashboard is arranged. */
export type ArrangeProps = {
  spec: DashboardSpec;
  change: (next: DashboardSpec) => void;
  selected: string | null;
  select: (id: string | null) => void;
  sources: Sources;
  /** Makes a query of its own over a table; its id, or nothing where it could not be made. */
  ownQuery: (table: string) => Promise<string | undefined>;
  schema: Schema;
  today: Today;
  queryOf: (tile: PlainTile) => QuerySpec | null;
  remove: () => void;
};

export const KINDS: Record<TileKind, string> = {
  figure: COMMON.figure,
  chart: COMMON.chart,
  table: COMMON.table,
  pivot: WORDS.pivot,
  text: COMMON.text,
  picture: WORDS.picture,
  switch: WORDS.parameter,
};

export const Labelled = ({ label, children }: { label: string; children: ReactNode }) => (
  <label className="grid gap-0.5">
    <span className="text-small text-soft">{label}</span>
    {children}
  </label>
);
