import { z } from "zod";
import { Refusal } from "@/server/common/refusal";
import { getting, posting } from "@/server/http/handle";
import { copiedAsOfSchema } from "@/server/services/workspace/copiedAsOf";
import { chooseCopiedAsOf, copiedAsOfOf, copyAgainAsOf } from "@/server/services/workspace/copy";
import type { Workspace } from "@/server/services/workspace/workspace";
import { isServer } from "@/server/source/postgres/address";

function needServer(ws: Workspace): void {
  if (!isServer(ws.database)) throw new Refusal(404, "Only tables of a database server can be read as of an earlier time.");
}

/** What is read as of an earlier moment, and the copy of it. */
export const GET = getting("owner", async ({ ws }) => {
  needServer(ws);
  return Response.json(await copiedAsOfOf(ws));
});

/** Chooses the tables and the time of the day, or has them read again now. */
export const POST = posting("owner", z.union([copiedAsOfSchema.omit({ since: true }), z.strictObject({ again: z.literal(true) })]), async (asked, { ws }) => {
  needServer(ws);
  await ("again" in asked ? copyAgainAsOf(ws) : chooseCopiedAsOf(ws, asked));
  return Response.json(await copiedAsOfOf(ws));
});
