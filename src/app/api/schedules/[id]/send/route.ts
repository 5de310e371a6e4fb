import { z } from "zod";
import { scheduleSpecSchema } from "@/core/schedule/spec";
import { WORDS } from "@/features/schedules/words";
import { Refusal } from "@/server/common/refusal";
import { posting } from "@/server/http/handle";
import { scheduler } from "@/server/services/scheduler/scheduler";
import { scheduleToRun } from "@/server/services/scheduler/state";
import { workspace } from "@/server/services/workspace/here";

/** Makes a run that was held back for its control totals, all the same. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  return posting("analyst", z.object({ run: z.string() }), ({ run }, { ws }) => {
    const { name, spec } = scheduleToRun(ws, id);
    if (scheduleSpecSchema.safeParse(spec).data?.subject.kind === "posting") throw new Refusal(409, WORDS.postFromItsPage);
    if (!ws.catalogue.runs.of(id).some((r) => r.id === run && r.state === "held")) throw new Refusal(409, WORDS.thisRunIsNoLonger);
    ws.recorded(() => {
      ws.catalogue.runs.update(run, { state: "queued", forced: true, attempt: 0, error: null });
      ws.record(WORDS.sentAnyway, name);
    });
    void scheduler(workspace()).tick();
    return Response.json({});
  })(request);
}
