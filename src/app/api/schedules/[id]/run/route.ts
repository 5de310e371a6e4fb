import { failureResponse, Refusal } from "@/server/http/handle";
import { scheduler } from "@/server/scheduler/scheduler";
import { workspace } from "@/server/workspace/workspace";

export async function POST(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  try {
    const ws = workspace();
    const { id } = await params;
    if (ws.catalogue.get(id)?.kind !== "schedule") throw new Refusal(404, "This schedule is gone.");
    const run = ws.catalogue.claimRun({ schedule: id, dueAt: ws.now(), late: false, manual: true });
    void scheduler(ws).tick();
    return Response.json({ run: run?.id });
  } catch (error) {
    return failureResponse(error);
  }
}
