import { z } from "zod";
import { posting } from "@/server/http/handle";
import { columnsForEach, eachQuestionSchema } from "@/server/services/scheduler/each";

const shape = eachQuestionSchema.pick({ subject: true }).extend({ query: z.string().max(60).nullable() });

/** The columns by which there can be one file for each. */
export const POST = posting("analyst", shape, async (asked, { ws }) => Response.json(await columnsForEach(ws, asked)));
