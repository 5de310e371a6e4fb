import type { Metadata } from "next";
import { SchedulesPage } from "@/features/schedules/SchedulesPage";
import { schedulesState } from "@/server/scheduler/state";
import { workspace } from "@/server/workspace/workspace";

export const metadata: Metadata = { title: "Schedules" };

export default async function Page({ searchParams }: { searchParams: Promise<{ new?: string; report?: string }> }) {
  const { report, new: fresh } = await searchParams;
  const ws = workspace();
  return <SchedulesPage initial={schedulesState(ws)} zone={ws.locale.zone} making={fresh ? (report ?? "") : null} />;
}
