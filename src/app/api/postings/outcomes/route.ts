import { z } from "zod";
import { postingSpecSchema } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import { ROW_FORMATS } from "@/core/schedule/choices";
import { exportResponse, temporaryPath } from "@/server/http/download";
import { posting } from "@/server/http/handle";
import { previewOf } from "@/server/services/posting/service";
import { TIME_LIMIT_MS } from "@/server/services/posting/source";
import { writeOutcomes } from "@/server/services/posting/writeOutcomes";

const shape = z.object({ spec: postingSpecSchema, name: z.string().max(200), format: z.enum(ROW_FORMATS) });

/** What would become of every row of a posting, as a file. */
export const POST = posting("analyst", shape, async ({ spec, name, format }, { ws, caller }) => {
  const preview = await previewOf(ws, spec, caller);
  const path = temporaryPath(ws.folder, format);
  await writeOutcomes(ws, { preview, steps: stepsOf(spec) }, { format, path }, { ...caller, timeLimitMs: TIME_LIMIT_MS });
  return exportResponse(ws, path, name, format);
});
