import { z } from "zod";
import { fileName, fileResponse, temporaryPath } from "@/server/http/download";
import { clientOf, posting } from "@/server/http/handle";
import { planOf, questionSchema } from "@/server/queries/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(questionSchema.extend({ name: z.string().max(200) }), async ({ spec, values, name }, request) => {
  const ws = workspace();
  const path = temporaryPath(ws.folder, "csv");
  const plan = await planOf(ws, spec, values);
  await ws.engine.run<"csv">({ kind: "csv", database: ws.database, plan, path }, { client: clientOf(request), signal: request.signal, timeLimitMs: 1_800_000 });
  return fileResponse(path, fileName(name, "csv"), true);
});
