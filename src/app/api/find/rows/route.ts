import { z } from "zod";
import { getting } from "@/server/http/handle";
import { findRows } from "@/server/services/find/rows";

/** Rows by their names. */
export const GET = getting("analyst", async ({ ws, request, caller }) => {
  const words = z.string().trim().min(2).max(100).parse(new URL(request.url).searchParams.get("words"));
  return Response.json(await findRows(ws, words, caller));
});
