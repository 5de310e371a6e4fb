import { basename, extname } from "node:path";
import { WORDS } from "@/features/outbox/words";
import { Refusal } from "@/server/common/refusal";
import { fileResponse } from "@/server/http/download";
import { getting } from "@/server/http/handle";
import { outboxPath } from "@/server/services/outbox/outbox";

/** What a browser shows without running anything in it. */
const SHOWN = new Set([".pdf", ".png"]);

/** A file of the outbox; with `show`, pages and pictures to be looked at in a page. */
export const GET = getting("analyst", ({ ws, request }) => {
  const asked = new URL(request.url).searchParams;
  const wanted = asked.get("path") ?? "";
  const path = outboxPath(ws, wanted);
  if (!path) throw new Refusal(404, WORDS.thisFileIsNotIn);
  const shown = asked.has("show") && SHOWN.has(extname(path).toLowerCase());
  ws.record(shown ? "looked at in the outbox" : "downloaded from the outbox", wanted);
  return fileResponse(path, basename(path), false, shown);
});
