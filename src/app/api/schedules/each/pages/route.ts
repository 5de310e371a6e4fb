import { z } from "zod";
import { posting } from "@/server/http/handle";
import { eachQuestionSchema, pagesOfEach } from "@/server/services/scheduler/each";

/** The pages that one of many would get. */
export const POST = posting("analyst", eachQuestionSchema.extend({ key: z.string().max(10_000) }), async (asked, { ws }) =>
  Response.json(await pagesOfEach(ws, asked)),
);
