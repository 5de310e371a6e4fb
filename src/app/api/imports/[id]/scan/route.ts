import { z } from "zod";
import { cleanSchema, fileFormatSchema } from "@/core/import/spec";
import { working } from "@/server/http/handle";
import { scanAnswerOf } from "@/server/services/import/service";

type Context = { params: Promise<{ id: string }> };
const shape = z.object({ format: fileFormatSchema.nullable(), cleans: z.array(cleanSchema.nullable()).max(1000).default([]) });

export async function POST(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return working("analyst", shape, request, ({ format, cleans }, { ws, caller }, onProgress) => {
    const said = cleans.map((clean) => clean ?? undefined);
    return scanAnswerOf(ws, id, format, { ...caller, onProgress }, said);
  });
}
