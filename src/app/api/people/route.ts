import { WORDS } from "@/features/people/words";
import { Refusal } from "@/server/common/refusal";
import { posting } from "@/server/http/handle";
import { sessionCookie } from "@/server/http/session";
import { newPersonSchema } from "@/server/services/people/shapes";

/** Makes an account. The first one is the owner's, and signs its maker in: from then on nobody works without. */
export const POST = posting("owner", newPersonSchema, async (person, { ws, request }) => {
  const first = !ws.people.any();
  if (first && person.role !== "owner") throw new Refusal(422, WORDS.theFirstAccountMustBe);
  const made = await ws.people.create(person, ({ name, role }) => ws.people.record(first ? name : ws.person, WORDS.addedAnAccount, `${name}, ${role}`));
  return Response.json(made, first ? { headers: { "set-cookie": sessionCookie(request, ws.people.open(made)) } } : {});
});
