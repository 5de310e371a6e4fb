import { z } from "zod";
import { findRows } from "@/server/find/rows";
import { getting } from "@/server/http/handle";

/** Rows by their names. */
export const GET = getting("analyst", async ({ ws, request, caller }) => {
  const words = z.string().trim().min(2).max(100).parse(new URL(request.url).searchParams.get("words"));
  return Response.json(await findRows(ws, words, caller));
});
