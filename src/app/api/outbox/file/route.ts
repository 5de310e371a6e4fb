import { basename } from "node:path";
import { fileResponse } from "@/server/http/download";
import { failureResponse, Refusal } from "@/server/http/handle";
import { outboxPath } from "@/server/outbox/outbox";
import { workspace } from "@/server/workspace/workspace";

export function GET(request: Request): Response {
  try {
    const path = outboxPath(workspace().outbox, new URL(request.url).searchParams.get("path") ?? "");
    if (!path) throw new Refusal(404, "There is no such file in the outbox.");
    return fileResponse(path, basename(path), false);
  } catch (error) {
    return failureResponse(error);
  }
}
