import { workOf } from "@/server/common/progress";
import { getting } from "@/server/http/handle";

/** How many rows or pages of a file are done, that the one who asks is waiting for. */
export const GET = getting("viewer", ({ ws, request, caller }) => {
  const work = workOf(caller.client, new URL(request.url).searchParams.get("work"));
  return Response.json({ done: work === null ? null : ws.progress.of(work) });
});
