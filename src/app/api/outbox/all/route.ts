import { getting } from "@/server/http/handle";
import { allFiles } from "@/server/http/outboxFiles";

/** All files of the outbox, or of one run, in one archive. */
export const GET = getting("analyst", ({ ws, request }) => allFiles(ws, new URL(request.url).searchParams.get("run")));
