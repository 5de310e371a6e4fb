import type { ChartKind } from "./choices";
import type { ChartSpec } from "./spec";

export const newChart = (pivot: ChartSpec["pivot"], kind: ChartKind): ChartSpec => ({
  version: 1,
  query: pivot.query,
  kind,
  pivot,
  right: [],
  labels: false,
  patterns: true,
  lying: false,
  target: null,
  mean: false,
  trend: false,
  earlier: null,
  band: "",
});
