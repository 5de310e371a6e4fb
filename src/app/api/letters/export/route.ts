import { z } from "zod";
import { LETTER_FORMATS } from "@/core/letter/choices";
import { letterSpecSchema } from "@/core/letter/spec";
import { exportResponse, temporaryPath } from "@/server/http/download";
import { posting } from "@/server/http/handle";
import { letterQuestionSchema, writeLetters } from "@/server/services/letters/service";
import { described, specOf } from "@/server/services/people/described";

const shape = letterQuestionSchema.extend({ ...described(letterSpecSchema), name: z.string().max(200), format: z.enum(LETTER_FORMATS) });

export const POST = posting("viewer", shape, async ({ name, format, spec, object, ...question }, { ws, caller }) => {
  const path = temporaryPath(ws.folder, format);
  await writeLetters(ws, { ...question, spec: specOf(ws, { spec, object }, "letter", letterSpecSchema) }, { format, path, title: name }, caller);
  return exportResponse(ws, path, name, format);
});
