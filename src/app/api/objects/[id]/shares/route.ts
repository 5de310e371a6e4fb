import { z } from "zod";
import { LEVELS } from "@/core/people/spec";
import { type At, getting, posting } from "@/server/http/handle";
import { Refusal } from "@/server/http/refusal";
import type { Sharing } from "@/server/people/sharing";

type Context = { params: Promise<{ id: string }> };

function opened({ ws }: At, id: string) {
  const saved = ws.objects.open(id);
  if (!saved) throw new Refusal(404, "This is gone, or is not shared with you.");
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
        .filter((p) => p.id !== saved.owner && p.role !== "owner" && !p.barred)
        .map(({ id: person, name, role }) => ({ id: person, name, role })),
    };
    return Response.json(sharing);
  })(request);
}

export async function PUT(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return posting("analyst", z.object({ person: z.string().max(60), level: z.enum(LEVELS).nullable() }), ({ person, level }, at) => {
    const { ws } = at;
    const saved = opened(at, id);
    if (!ws.objects.mayShare(saved)) throw new Refusal(403, "Only who made it, or an owner, may share this.");
    if (person !== "" && !ws.people.get(person)) throw new Refusal(404, "This account is gone.");
    const whom = person === "" ? "everyone" : (ws.people.get(person)?.name ?? "");
    ws.recorded(() => {
      ws.people.share(id, person, level);
      ws.record(level === null ? "no longer shares" : "shared", `${saved.name} with ${whom}${level ? `, to ${level}` : ""}`);
    });
    return Response.json({});
  })(request);
}
