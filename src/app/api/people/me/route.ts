import { z } from "zod";
import { WORDS } from "@/features/people/words";
import { Refusal } from "@/server/common/refusal";
import { posting } from "@/server/http/handle";
import { sessionCookie } from "@/server/http/session";
import { passwordSchema } from "@/server/services/people/shapes";

/** Changes one's own password. All other sessions end. */
export const POST = posting("viewer", z.object({ current: z.string().max(500), password: passwordSchema }), async ({ current, password }, { ws, request }) => {
  const { signedIn, people } = ws;
  if (!signedIn) throw new Refusal(409, WORDS.thereAreNoAccountsYet);
  if (!(await people.isPasswordOf(signedIn.id, current))) throw new Refusal(401, WORDS.theCurrentPasswordIsWrong);
  await people.change(signedIn.id, { password }, () => ws.record(WORDS.changedTheirPassword, ""));
  return Response.json({}, { headers: { "set-cookie": sessionCookie(request, people.open(signedIn)) } });
});
