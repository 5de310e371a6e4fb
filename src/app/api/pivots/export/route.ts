import { z } from "zod";
import { PIVOT_FORMATS } from "@/core/pivot/spec";
import { fileName, fileResponse, temporaryPath } from "@/server/http/download";
import { clientOf, posting } from "@/server/http/handle";
import { pivotQuestionSchema, writePivot } from "@/server/pivots/service";
import { workspace } from "@/server/workspace/workspace";

const shape = pivotQuestionSchema.extend({ name: z.string().max(200), format: z.enum(PIVOT_FORMATS) });

export const POST = posting(shape, async ({ name, format, ...question }, request) => {
  const ws = workspace();
  const path = temporaryPath(ws.folder, format);
  await writePivot(ws, question, { format, path, title: name }, { client: clientOf(request), signal: request.signal });
  return fileResponse(path, fileName(name, format), true);
});
