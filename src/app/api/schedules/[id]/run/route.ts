import { getting } from "@/server/http/handle";
import { scheduler } from "@/server/services/scheduler/scheduler";
import { scheduleToRun } from "@/server/services/scheduler/state";
import { workspace } from "@/server/services/workspace/here";

export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  return getting("analyst", ({ ws }) => {
    scheduleToRun(ws, id);
    const run = ws.catalogue.runs.claim({ schedule: id, dueAt: ws.now(), late: false, manual: true });
    void scheduler(workspace()).tick();
    return Response.json({ run: run?.id });
  })(request);
}
