import { getting } from "@/server/http/handle";
import { schedulesState } from "@/server/services/scheduler/state";

export const GET = getting("analyst", ({ ws }) => Response.json(schedulesState(ws)));
