import { z } from "zod";
import { getting, posting } from "@/server/http/handle";

const place = z.string().min(1).max(300);

/** What the one who asks left unsaved on a page; null where they left nothing. */
export const GET = getting("analyst", ({ ws, request }) => {
  const at = place.parse(new URL(request.url).searchParams.get("place"));
  return Response.json(ws.catalogue.draftOf(ws.signedIn?.id ?? "", at) ?? null);
});

/** Keeps what they leave unsaved; null: nothing. */
export const POST = posting("analyst", z.object({ place, spec: z.unknown() }), ({ place: at, spec }, { ws }) => {
  ws.catalogue.keepDraft(ws.signedIn?.id ?? "", at, spec ?? null);
  return Response.json({});
});
