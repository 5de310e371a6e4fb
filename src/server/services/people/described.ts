import { z } from "zod";
import { can } from "@/core/people/abilities";
import type { ObjectKind } from "@/server/catalogue/catalogue";
import { Refusal } from "@/server/common/refusal";
import type { Workspace } from "@/server/services/workspace/workspace";

/** What a question is about: a description as it is being built, or a saved object by its id. */
export const described = <S>(shape: z.ZodType<S>) => ({ spec: shape.optional(), object: z.string().max(60).optional() });

type Described<S> = { spec?: S | undefined; object?: string | undefined };

/**
 * The description that is asked about. Who only looks names a saved object that is shared with them: nothing they send
 * is worked out as it stands.
 * @throws Refusal 403 for a description from a viewer, 404 for an object that is not for them
 */
export function specOf<S>(ws: Workspace, { spec, object }: Described<S>, kind: ObjectKind, shape: z.ZodType<S>): S {
  if (object !== undefined) {
    const saved = ws.objects.open(object);
    if (saved?.kind !== kind) throw new Refusal(404, `This ${kind} does not exist any more, or it is not shared with you.`);
    return shape.parse(saved.spec);
  }
  if (spec === undefined) throw new Refusal(400, "The request names no object.");
  needBuilder(ws);
  return spec;
}

/** @throws Refusal 403 for those who only look */
export function needBuilder(ws: Workspace): void {
  if (ws.signedIn && !can(ws.signedIn.role, "build")) throw new Refusal(403, "Viewers cannot create or change objects. Ask an owner for another role.");
}
