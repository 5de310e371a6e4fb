import { importSpecSchema } from "@/core/import/spec";
import { working } from "@/server/http/handle";
import { importOf } from "@/server/services/import/service";

type Context = { params: Promise<{ id: string }> };

export async function POST(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return working("analyst", importSpecSchema, request, (spec, { ws, caller }, onProgress) => importOf(ws, id, spec, { ...caller, onProgress }));
}
