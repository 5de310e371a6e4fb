/** How a figure is shown. Each is worked out from the figures themselves; see show.ts. */
export const SHOW_AS = ["asIs", "shareOfRow", "shareOfColumn", "shareOfWhole", "shareOfParent", "running", "difference", "change", "rank"] as const;

export type ShowAs = (typeof SHOW_AS)[number];

/** The files a pivot can be written to. */
export const PIVOT_FORMATS = ["csv", "xlsx", "pdf"] as const;

export type PivotFormat = (typeof PIVOT_FORMATS)[number];
