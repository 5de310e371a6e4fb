import { z } from "zod";
import { reportSpecSchema } from "@/core/report/spec";
import { posting } from "@/server/http/handle";
import { repointed } from "@/server/reports/service";

const shape = z.object({ spec: reportSpecSchema, query: z.string().max(60) });

export const POST = posting("analyst", shape, async ({ spec, query }, { ws }) => Response.json(await repointed(ws, spec, query)));
