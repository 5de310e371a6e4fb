import { WORDS } from "@/features/outbox/words";
import { Refusal } from "@/server/common/refusal";
import { getting } from "@/server/http/handle";
import { outboxPath } from "@/server/services/outbox/outbox";
import { previewOf } from "@/server/services/outbox/preview";

/** The beginning of a file of the outbox. */
export const GET = getting("analyst", async ({ ws, request }) => {
  const wanted = new URL(request.url).searchParams.get("path") ?? "";
  const path = outboxPath(ws, wanted);
  if (!path) throw new Refusal(404, WORDS.thisFileIsNotIn);
  const preview = await previewOf(path);
  // Pages and pictures are written down where they are handed out.
  if (preview.kind === "rows" || preview.kind === "message") ws.record("looked at in the outbox", wanted);
  return Response.json(preview);
});
