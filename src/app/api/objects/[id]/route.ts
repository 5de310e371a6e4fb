import { z } from "zod";
import { COMMON } from "@/features/words";
import { checkSpec } from "@/server/catalogue/specs";
import { Refusal } from "@/server/common/refusal";
import { getting, posting } from "@/server/http/handle";
import { refuseBreaking } from "@/server/services/objects/breaks";
import { checkObject, MEANS } from "@/server/services/objects/checkObject";
import { recordKept } from "@/server/services/people/recordKept";

const shape = z.object({ name: z.string().trim().min(1, COMMON.enterAName).max(200).optional(), spec: z.unknown().optional(), revision: z.number().int() });
const gone = () => new Refusal(404, COMMON.deletedMeanwhile);

type Context = { params: Promise<{ id: string }> };

export async function PATCH(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return posting("analyst", shape, async ({ name, spec, revision }, { ws, request: asked }) => {
    const known = ws.objects.open(id);
    if (!known) throw gone();
    const checked = spec === undefined ? undefined : checkSpec(known.kind, spec);
    await checkObject(ws, known.kind, name ?? known.name, checked ?? known.spec, id);
    const anyway = new URL(asked.url).searchParams.has("anyway");
    if (!anyway && name !== undefined && name !== known.name) ws.objects.refuseSameName(known.kind, name, id);
    if (!anyway && checked !== undefined) await refuseBreaking(ws, known, checked);
    return Response.json(
      ws.recorded(() => {
        const saved = ws.objects.save(id, { name, spec: checked }, revision);
        recordKept(ws, known, saved);
        return saved;
      }),
    );
  })(request);
}

export async function DELETE(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return getting("analyst", ({ ws, request: asked }) => {
    const known = ws.objects.open(id);
    if (known && MEANS.has(known.kind)) ws.needUnbound();
    ws.recorded(() => {
      ws.objects.remove(id, new URL(asked.url).searchParams.has("anyway"));
      recordKept(ws, known, undefined);
    });
    return Response.json({});
  })(request);
}
