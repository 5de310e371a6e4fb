import { SchedulesPage } from "@/features/schedules/SchedulesPage";
import { signedInWorkspace } from "@/server/http/signedIn";
import { schedulesState } from "@/server/services/scheduler/state";

export default async function Page({ searchParams }: { searchParams: Promise<{ new?: string; of?: string }> }) {
  const { of, new: fresh } = await searchParams;
  const ws = await signedInWorkspace("analyst");
  return <SchedulesPage initial={schedulesState(ws)} zone={ws.locale.zone} making={fresh ? (of ?? "") : null} />;
}
