import { COMMON } from "@/features/words";
import { checkSpec } from "@/server/catalogue/specs";
import { Refusal } from "@/server/common/refusal";
import { getting } from "@/server/http/handle";
import { aboutObject } from "@/server/services/objects/about";

type Context = { params: Promise<{ id: string }> };

/** What an object is made from, what uses it, and what it was; with a revision, that version whole. */
export async function GET(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return getting("analyst", async ({ ws, request: asked }) => {
    const object = ws.objects.open(id);
    if (!object) throw new Refusal(404, COMMON.deletedMeanwhile);
    const wanted = new URL(asked.url).searchParams.get("revision");
    if (wanted === null) return Response.json(await aboutObject(ws, object));
    const version = ws.catalogue.versionsOf(id).find((v) => v.revision === Number(wanted));
    if (!version) throw new Refusal(404, COMMON.versionGone);
    return Response.json({ name: version.name, spec: checkSpec(object.kind, version.spec) });
  })(request);
}
