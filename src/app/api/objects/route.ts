import { z } from "zod";
import { COMMON } from "@/features/words";
import { checkSpec, kindSchema } from "@/server/catalogue/specs";
import { Refusal } from "@/server/common/refusal";
import { getting, posting } from "@/server/http/handle";
import { checkObject, MEANS } from "@/server/services/objects/checkObject";
import { recordKept } from "@/server/services/people/recordKept";

const name = z.string().trim().min(1, COMMON.enterAName).max(200);
const shape = z.object({
  kind: kindSchema,
  name,
  spec: z.unknown(),
  id: z.string().max(60).optional(),
  /** Made by the page: a number tells its name from others. */ numbered: z.boolean().optional(),
});

export const POST = posting("analyst", shape, async ({ kind, name, spec, id, numbered = false }, { ws, request }) => {
  // One that was deleted comes back under the id it had, so that what names it finds it again; as it was, broken or not.
  if (id !== undefined && ws.catalogue.get(id)) throw new Refusal(409, COMMON.itAlreadyExists);
  const checked = checkSpec(kind, spec);
  if (id === undefined && !numbered && !new URL(request.url).searchParams.has("anyway")) ws.objects.refuseSameName(kind, name);
  if (id === undefined) await checkObject(ws, kind, name, checked);
  else if (MEANS.has(kind)) ws.needUnbound();
  return Response.json(
    ws.recorded(() => {
      const made = numbered ? ws.objects.createNumbered(kind, name, checked) : ws.objects.create(kind, name, checked, id);
      recordKept(ws, undefined, made);
      return made;
    }),
  );
});

/** The saved objects: all by kind and name, or those of one kind whole. */
export const GET = getting("viewer", ({ ws, request }) => {
  const wanted = kindSchema.safeParse(new URL(request.url).searchParams.get("kind"));
  if (wanted.success) return Response.json(ws.signedIn?.role === "viewer" ? [] : ws.objects.list(wanted.data));
  return Response.json(ws.objects.list().map(({ id, kind, name }) => ({ id, kind, name })));
});
