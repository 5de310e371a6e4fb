import { z } from "zod";
import { posting } from "@/server/http/handle";
import { itemsOfRun } from "@/server/services/scheduler/state";

/** What a run made for each of many, and what became of each. */
export const POST = posting("analyst", z.object({ run: z.string().max(60) }), ({ run }, { ws }) => Response.json({ items: itemsOfRun(ws, run) }));
