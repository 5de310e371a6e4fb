import { z } from "zod";
import { LEVELS } from "@/core/people/roles";
import { COMMON } from "@/features/words";
import { Refusal } from "@/server/common/refusal";
import { type At, getting, posting } from "@/server/http/handle";
import { share } from "@/server/services/people/share";
import type { Sharing } from "@/server/services/people/sharing";

type Context = { params: Promise<{ id: string }> };

function opened({ ws }: At, id: string) {
  const saved = ws.objects.open(id);
  if (!saved) throw new Refusal(404, COMMON.gone);
  return saved;
}

export async function GET(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return getting("analyst", (at) => {
    const saved = opened(at, id);
    const { people, objects } = at.ws;
    const sharing: Sharing = {
      accounts: people.any(),
      mayShare: objects.mayShare(saved),
      owner: saved.owner ? (people.get(saved.owner)?.name ?? null) : null,
      shares: people.sharesOf(id).map(({ person, level }) => ({ person, level })),
      people: people
        .list()
        .filter((p) => p.id !== saved.owner && p.role !== "owner" && !p.blocked)
        .map(({ id: person, name, role }) => ({ id: person, name, role })),
    };
    return Response.json(sharing);
  })(request);
}

export async function PUT(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return posting("analyst", z.object({ person: z.string().max(60), level: z.enum(LEVELS).nullable() }), ({ person, level }, at) => {
    const saved = opened(at, id);
    at.ws.recorded(() => share(at.ws, saved, person, level));
    return Response.json({});
  })(request);
}
