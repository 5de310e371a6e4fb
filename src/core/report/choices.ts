/** How a column is summed up in a group's footing. */
export const FOOTINGS = ["none", "total", "count", "average"] as const;

export type Footing = (typeof FOOTINGS)[number];

export const PAPERS = { A4: { width: 210, height: 297 }, Letter: { width: 215.9, height: 279.4 } } as const;
