import { WORDS } from "@/features/people/words";
import { posting } from "@/server/http/handle";
import { personChangeSchema } from "@/server/services/people/shapes";

type Context = { params: Promise<{ id: string }> };

/** Changes an account; its sessions end where it is blocked, gets another role or another password. */
export async function PATCH(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return posting("owner", personChangeSchema, async (set, { ws }) => {
    return Response.json(await ws.people.change(id, set, ({ name }) => ws.record(WORDS.changedAnAccount, `${name}: ${Object.keys(set).join(", ")}`)));
  })(request);
}
