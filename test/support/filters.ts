import type { DashboardFilter } from "@/core/dashboard/spec";

/** A filter of a dashboard on a column, called by it. */
export const filterOn = (
  id: string,
  table: string,
  column: string,
  meets: DashboardFilter["meets"],
  first: DashboardFilter["default"] = null,
): DashboardFilter => ({ id, label: column, table, column, meets, default: first });
