import type { PivotAxis, PivotSpec } from "./spec";

export const newAxis = (id: string, value: PivotAxis["value"]): PivotAxis => ({
  id,
  value,
  order: { by: "name", direction: "up" },
  first: null,
  empty: false,
  subtotal: "before",
});

export const emptyPivot = (query: string): PivotSpec => ({
  version: 1,
  query,
  down: [],
  across: [],
  figures: [],
  conditions: [],
  parameters: {},
  asked: [],
  totals: { down: true, across: true },
  heat: null,
  shut: [],
});
