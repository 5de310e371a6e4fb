import { z } from "zod";
import { checkObject } from "@/server/catalogue/checkObject";
import { checkSpec, kindSchema } from "@/server/catalogue/specs";
import { posting, Refusal } from "@/server/http/handle";
import { workspace } from "@/server/workspace/workspace";

const name = z.string().trim().min(1, "Give it a name.").max(200);

export const POST = posting(z.object({ kind: kindSchema, name, spec: z.unknown(), id: z.string().max(60).optional() }), async ({ kind, name, spec, id }) => {
  const ws = workspace();
  // One that was deleted comes back under the id it had, so that what names it finds it again; as it was, broken or not.
  if (id !== undefined && ws.catalogue.get(id)) throw new Refusal(409, "It is there already.");
  if (id === undefined) await checkObject(ws, kind, name, spec);
  return Response.json(ws.catalogue.create(kind, name, checkSpec(kind, spec), id));
});

/** The saved objects: all by kind and name, or those of one kind whole. */
export function GET(request: Request): Response {
  const wanted = kindSchema.safeParse(new URL(request.url).searchParams.get("kind"));
  const { catalogue } = workspace();
  if (wanted.success) return Response.json(catalogue.list(wanted.data));
  return Response.json(catalogue.list().map(({ id, kind, name }) => ({ id, kind, name })));
}
