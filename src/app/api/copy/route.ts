import { z } from "zod";
import { getting, posting } from "@/server/http/handle";
import { changeCopy, copyOf, needCopy } from "@/server/services/workspace/copy";

/** What there is of the columnar copy. */
export const GET = getting("owner", ({ ws }) => {
  needCopy(ws, "asNow");
  return Response.json(copyOf(ws));
});

/** Turns the copy on or off, or has it made again. */
export const POST = posting("owner", z.object({ change: z.enum(["on", "off", "again"]) }), ({ change }, { ws }) => {
  needCopy(ws, "asNow");
  changeCopy(ws, change);
  return Response.json(copyOf(ws));
});
