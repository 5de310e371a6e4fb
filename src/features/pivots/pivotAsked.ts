import type { PivotSpec } from "@/core/pivot/spec";

/** What is asked of a pivot: how groups are folded and shaded is seen to on the page, so only what changes the figures is. */
export const pivotAsked = (spec: PivotSpec): { spec: PivotSpec; values: object } => ({
  spec: { ...spec, shut: [], heat: null, totals: { down: true, across: true } },
  values: {},
});
