import { z } from "zod";
import { querySpecSchema } from "@/core/query/spec";
import { reportSpecSchema } from "@/core/report/spec";
import { posting } from "@/server/http/handle";
import { queryOf, repointed } from "@/server/services/reports/service";

const shape = z.object({ spec: reportSpecSchema, query: z.string().max(60), own: querySpecSchema.optional() });

/** A report laid over another query, or over one of its own. */
export const POST = posting("analyst", shape, async ({ spec, query, own }, { ws }) => {
  const source = { query, ...(own ? { own } : {}) };
  return Response.json({ spec: await repointed(ws, spec, source), query: queryOf(ws, source) });
});
