import { z } from "zod";
import { posting } from "@/server/http/handle";
import { nextFile } from "@/server/services/import/next";
import { TIME_LIMIT_MS } from "@/server/services/posting/source";

const id = z.string().regex(/^[\w-]{1,60}$/);

/** A file that was sent, as the next one of a posting: read as the one before it was. */
export const POST = posting("analyst", z.object({ id, as: id }), async ({ id: file, as }, { ws, caller }) =>
  Response.json(await nextFile(ws, file, as, { ...caller, timeLimitMs: TIME_LIMIT_MS })),
);
