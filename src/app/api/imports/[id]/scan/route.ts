import { z } from "zod";
import { fileFormatSchema } from "@/core/import/spec";
import { clientOf, working } from "@/server/http/handle";
import { scanOf } from "@/server/import/service";
import { workspace } from "@/server/workspace/workspace";

type Context = { params: Promise<{ id: string }> };

export async function POST(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return working(z.object({ format: fileFormatSchema.nullable() }), request, ({ format }, onProgress) =>
    scanOf(workspace(), id, format, { client: clientOf(request), signal: request.signal, onProgress }),
  );
}
