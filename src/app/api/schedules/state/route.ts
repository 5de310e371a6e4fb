import { schedulesState } from "@/server/scheduler/state";
import { workspace } from "@/server/workspace/workspace";

export function GET(): Response {
  return Response.json(schedulesState(workspace()));
}
