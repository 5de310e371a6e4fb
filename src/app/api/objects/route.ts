import { z } from "zod";
import { checkSpec, kindSchema } from "@/server/catalogue/specs";
import { posting } from "@/server/http/handle";
import { workspace } from "@/server/workspace/workspace";

const name = z.string().trim().min(1, "Give it a name.").max(200);

export const POST = posting(z.object({ kind: kindSchema, name, spec: z.unknown() }), ({ kind, name, spec }) =>
  Response.json(workspace().catalogue.create(kind, name, checkSpec(kind, spec))),
);

/** What there is to find: the saved objects by kind and name. */
export function GET(): Response {
  return Response.json(
    workspace()
      .catalogue.list()
      .map(({ id, kind, name }) => ({ id, kind, name })),
  );
}
