import { basename } from "node:path";
import { WORDS } from "@/features/outbox/words";
import { fileResponse } from "@/server/http/download";
import { getting } from "@/server/http/handle";
import { Refusal } from "@/server/http/refusal";
import { outboxPath } from "@/server/outbox/outbox";

export const GET = getting("analyst", ({ ws, request }) => {
  const wanted = new URL(request.url).searchParams.get("path") ?? "";
  const path = outboxPath(ws, wanted);
  if (!path) throw new Refusal(404, WORDS.thisFileIsNotIn);
  ws.record(WORDS.downloadedFromTheOutbox, wanted);
  return fileResponse(path, basename(path), false);
});
