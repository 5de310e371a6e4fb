import { z } from "zod";
import { WORDS } from "@/features/people/words";
import { posting } from "@/server/http/handle";
import { sessionCookie, tokenOf } from "@/server/http/session";
import { workspace } from "@/server/services/workspace/here";

const shape = z.object({ login: z.string().max(200), password: z.string().max(500) });

/** Signs in: the browser gets a session. */
export const POST = posting("open", shape, async ({ login, password }, { request }) => {
  const { people } = workspace();
  const device = /(?:^|;\s*)viewer=([\w-]+)/.exec(request.headers.get("cookie") ?? "")?.[1] ?? null;
  const person = await people.signIn(login, password, device);
  return Response.json({ name: person.name }, { headers: { "set-cookie": sessionCookie(request, people.open(person)) } });
});

/** Signs out: here, or everywhere. */
export const DELETE = posting("open", z.object({ everywhere: z.boolean() }), ({ everywhere }, { ws, request }) => {
  const token = tokenOf(request.headers);
  const { people, signedIn } = ws;
  ws.recorded(() => {
    if (token) people.close(token);
    if (!everywhere || !signedIn) return;
    people.signOutEverywhere(signedIn.id);
    ws.record(WORDS.signedOutOnAllDevices, "");
  });
  return Response.json({}, { headers: { "set-cookie": sessionCookie(request, null) } });
});
