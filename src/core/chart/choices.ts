export const CHART_KINDS = ["bars", "stacked", "hundred", "lines", "areas", "steps", "points", "bubbles", "pie", "ring", "histogram", "box"] as const;

export type ChartKind = (typeof CHART_KINDS)[number];

/** Periods a chart can be held against: the same days so much earlier. */
export const EARLIER = ["year", "quarter", "month", "isoWeek", "day"] as const;

/** The files a chart can be written to. */
export const CHART_FORMATS = ["png", "pdf", "csv"] as const;

export type ChartFormat = (typeof CHART_FORMATS)[number];
