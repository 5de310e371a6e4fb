import { z } from "zod";
import { letterSpecSchema } from "@/core/letter/spec";
import { posting } from "@/server/http/handle";
import { letterAt, letterQuestionSchema } from "@/server/letters/service";
import { described, specOf } from "@/server/people/described";

const shape = letterQuestionSchema.extend({ ...described(letterSpecSchema), at: z.number().int().min(0) });

export const POST = posting("viewer", shape, async ({ at, spec, object, ...question }, { ws, caller }) =>
  Response.json(await letterAt(ws, { ...question, spec: specOf(ws, { spec, object }, "letter", letterSpecSchema) }, at, caller)),
);
