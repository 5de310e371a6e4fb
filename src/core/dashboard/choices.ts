/** The files a dashboard can be made into: printed pages, one picture of it all, a workbook with a sheet for what stands behind each tile. */
export const DASHBOARD_FORMATS = ["pdf", "xlsx", "png"] as const;

export type DashboardFormat = (typeof DASHBOARD_FORMATS)[number];
