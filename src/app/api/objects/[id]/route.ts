import { z } from "zod";
import { checkObject } from "@/server/catalogue/checkObject";
import { checkSpec } from "@/server/catalogue/specs";
import { posting, Refusal } from "@/server/http/handle";
import { workspace } from "@/server/workspace/workspace";

const shape = z.object({ name: z.string().trim().min(1, "Give it a name.").max(200).optional(), spec: z.unknown().optional(), revision: z.number().int() });
const gone = () => new Refusal(404, "This has been deleted in the meantime. Save it under a new name to keep it.");

type Context = { params: Promise<{ id: string }> };

export async function PATCH(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return posting(shape, async ({ name, spec, revision }) => {
    const ws = workspace();
    const { catalogue } = ws;
    const known = catalogue.get(id);
    if (!known) throw gone();
    const checked = spec === undefined ? undefined : checkSpec(known.kind, spec);
    await checkObject(ws, known.kind, name ?? known.name, checked ?? known.spec, id);
    return Response.json(catalogue.save(id, { name, spec: checked }, revision));
  })(request);
}

export async function DELETE(_request: Request, { params }: Context): Promise<Response> {
  workspace().catalogue.remove((await params).id);
  return Response.json({});
}
