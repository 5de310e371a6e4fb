import { importSpecSchema } from "@/core/import/spec";
import { clientOf, working } from "@/server/http/handle";
import { importOf } from "@/server/import/service";
import { workspace } from "@/server/workspace/workspace";

type Context = { params: Promise<{ id: string }> };

export async function POST(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return working(importSpecSchema, request, (spec, onProgress) =>
    importOf(workspace(), id, spec, { client: clientOf(request), signal: request.signal, onProgress }),
  );
}
