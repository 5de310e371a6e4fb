import { z } from "zod";
import { ROW_FORMATS } from "@/core/schedule/choices";
import { exportResponse, temporaryPath } from "@/server/http/download";
import { posting } from "@/server/http/handle";
import { planOf, questionSchema } from "@/server/queries/service";

const shape = questionSchema.extend({ name: z.string().max(200), format: z.enum(ROW_FORMATS), guarded: z.boolean().optional() });

export const POST = posting("analyst", shape, async ({ spec, values, name, format, guarded }, { ws, caller }) => {
  const path = temporaryPath(ws.folder, format);
  const plan = await planOf(ws, spec, values);
  const job = { kind: "export" as const, format, database: ws.database, plan, path, ...(guarded ? { guarded } : {}) };
  await ws.engine.run<"export">(job, { ...caller, timeLimitMs: 1_800_000 });
  return exportResponse(ws, path, name, format);
});
