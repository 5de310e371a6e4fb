import { z } from "zod";
import { getting, posting } from "@/server/http/handle";
import { copiedAsOfSchema } from "@/server/services/workspace/copiedAsOf";
import { chooseCopiedAsOf, copiedAsOfOf, copyAgainAsOf, needCopy } from "@/server/services/workspace/copy";

/** What is read as of an earlier moment, and the copy of it. */
export const GET = getting("owner", async ({ ws }) => {
  needCopy(ws, "asOf");
  return Response.json(await copiedAsOfOf(ws));
});

/** Chooses the tables and the time of the day, or has them read again now. */
export const POST = posting("owner", z.union([copiedAsOfSchema.omit({ since: true }), z.strictObject({ again: z.literal(true) })]), async (asked, { ws }) => {
  needCopy(ws, "asOf");
  await ("again" in asked ? copyAgainAsOf(ws) : chooseCopiedAsOf(ws, asked));
  return Response.json(await copiedAsOfOf(ws));
});
