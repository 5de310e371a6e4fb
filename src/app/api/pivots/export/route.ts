import { z } from "zod";
import { PIVOT_FORMATS } from "@/core/pivot/choices";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { parameterValuesSchema } from "@/core/query/spec";
import { exportResponse, temporaryPath } from "@/server/http/download";
import { posting } from "@/server/http/handle";
import { described, specOf } from "@/server/services/people/described";
import { writePivot } from "@/server/services/pivots/service";

const shape = z.object({ ...described(pivotSpecSchema), values: parameterValuesSchema, name: z.string().max(200), format: z.enum(PIVOT_FORMATS) });

export const POST = posting("viewer", shape, async ({ name, format, values, ...asked }, { ws, caller }) => {
  const path = temporaryPath(ws.folder, format);
  await writePivot(ws, { spec: specOf(ws, asked, "pivot", pivotSpecSchema), values }, { format, path, title: name }, caller);
  return exportResponse(ws, path, name, format);
});
