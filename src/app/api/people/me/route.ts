import { z } from "zod";
import { posting } from "@/server/http/handle";
import { Refusal } from "@/server/http/refusal";
import { sessionCookie } from "@/server/people/session";
import { passwordSchema } from "@/server/people/shapes";

/** Changes one's own password. All other sessions end. */
export const POST = posting("viewer", z.object({ current: z.string().max(500), password: passwordSchema }), async ({ current, password }, { ws, request }) => {
  const { signedIn, people } = ws;
  if (!signedIn) throw new Refusal(409, "There are no accounts yet.");
  if (!(await people.isPasswordOf(signedIn.id, current))) throw new Refusal(401, "The password you have now is another one. Type it again.");
  await people.change(signedIn.id, { password }, () => ws.record("changed their password", ""));
  return Response.json({}, { headers: { "set-cookie": sessionCookie(request, people.open(signedIn)) } });
});
