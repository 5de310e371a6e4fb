import type { Metadata } from "next";
import { SchedulesPage } from "@/features/schedules/SchedulesPage";
import { COMMON } from "@/features/words";
import { signedInWorkspace } from "@/server/people/signedIn";
import { schedulesState } from "@/server/scheduler/state";

export const metadata: Metadata = { title: COMMON.schedules };

export default async function Page({ searchParams }: { searchParams: Promise<{ new?: string; report?: string }> }) {
  const { report, new: fresh } = await searchParams;
  const ws = await signedInWorkspace("analyst");
  return <SchedulesPage initial={schedulesState(ws)} zone={ws.locale.zone} making={fresh ? (report ?? "") : null} />;
}
