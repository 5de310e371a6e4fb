import { z } from "zod";
import { fileFormatSchema } from "@/core/import/spec";
import { working } from "@/server/http/handle";
import { scanOf } from "@/server/import/service";

type Context = { params: Promise<{ id: string }> };
const shape = z.object({ format: fileFormatSchema.nullable() });

export async function POST(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return working("analyst", shape, request, ({ format }, { ws, caller }, onProgress) => scanOf(ws, id, format, { ...caller, onProgress }));
}
