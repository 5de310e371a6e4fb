import { z } from "zod";
import { LETTER_FORMATS } from "@/core/letter/spec";
import { fileName, fileResponse, temporaryPath } from "@/server/http/download";
import { clientOf, posting } from "@/server/http/handle";
import { letterQuestionSchema, writeLetters } from "@/server/letters/service";
import { workspace } from "@/server/workspace/workspace";

const shape = letterQuestionSchema.extend({ name: z.string().max(200), format: z.enum(LETTER_FORMATS) });

export const POST = posting(shape, async ({ name, format, ...question }, request) => {
  const ws = workspace();
  const path = temporaryPath(ws.folder, format);
  await writeLetters(ws, question, { format, path, title: name }, { client: clientOf(request), signal: request.signal });
  return fileResponse(path, fileName(name, format), true);
});
