import { z } from "zod";
import { posting } from "@/server/http/handle";
import { findPages, reportQuestionSchema } from "@/server/services/reports/service";

const shape = reportQuestionSchema.extend({ text: z.string().min(1).max(200) });

export const POST = posting("viewer", shape, async (asked, { ws, caller }) => Response.json(await findPages(ws, asked, caller)));
