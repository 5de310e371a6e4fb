import { posting } from "@/server/http/handle";
import { eachQuestionSchema, lookAtEach } from "@/server/services/scheduler/each";

/** What a schedule would make for each of many, before anything is made. */
export const POST = posting("analyst", eachQuestionSchema, async (asked, { ws }) => Response.json(await lookAtEach(ws, asked)));
