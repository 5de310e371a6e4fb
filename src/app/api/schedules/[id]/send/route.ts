import { z } from "zod";
import { posting, Refusal } from "@/server/http/handle";
import { scheduler } from "@/server/scheduler/scheduler";
import { workspace } from "@/server/workspace/workspace";

/** Makes a run that was held back for its control totals, all the same. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  return posting(z.object({ run: z.string() }), ({ run }) => {
    const ws = workspace();
    if (!ws.catalogue.runsOf(id).some((r) => r.id === run && r.state === "held")) throw new Refusal(409, "This run is not held back any more.");
    ws.catalogue.updateRun(run, { state: "queued", forced: true, attempt: 0, error: null });
    void scheduler(ws).tick();
    return Response.json({});
  })(request);
}
