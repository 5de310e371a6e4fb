import type { Run } from "@/server/engine/protocol";
import { exportDashboard } from "@/server/jobs/export/dashboard";
import type { DashboardJob, FileResult } from "@/server/jobs/work";

declare module "@/server/engine/protocol" {
  interface Jobs {
    dashboardFile: { asks: DashboardJob; gives: FileResult & { pages: number | null } };
  }
}

export const run: Run<"dashboardFile"> = exportDashboard;
