import { z } from "zod";
import { posting } from "@/server/http/handle";
import { MEANS } from "@/server/services/objects/checkObject";
import { recordKept } from "@/server/services/people/recordKept";

/** Brings a deleted object back. */
export const POST = posting("analyst", z.object({ id: z.string().max(60) }), ({ id }, { ws }) => {
  const deleted = ws.objects.inBin().find((d) => d.id === id);
  if (deleted && MEANS.has(deleted.kind)) ws.needUnbound();
  return Response.json(
    ws.recorded(() => {
      const made = ws.objects.restore(id);
      recordKept(ws, undefined, made);
      return made;
    }),
  );
});
