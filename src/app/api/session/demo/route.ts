import { z } from "zod";
import { WORDS } from "@/features/people/words";
import { Refusal } from "@/server/common/refusal";
import { posting } from "@/server/http/handle";
import { sessionCookie, tokenOf } from "@/server/http/session";
import { demoPeople } from "@/server/services/people/demo";
import { workspace } from "@/server/services/workspace/here";

/** Lets one of the demo's invented people in. */
export const POST = posting("open", z.object({ person: z.string() }), ({ person }, { request }) => {
  const house = workspace();
  const known = demoPeople(house, request.headers).some((p) => p.id === person) && house.people.get(person);
  if (!known) throw new Refusal(403, WORDS.onlyDemoAccountsCanSign);
  const before = tokenOf(request.headers);
  if (before) house.people.close(before);
  return Response.json({ name: known.name }, { headers: { "set-cookie": sessionCookie(request, house.people.open(known)) } });
});
