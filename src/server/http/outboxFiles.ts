import { createReadStream } from "node:fs";
import { join } from "node:path";
import { Refusal } from "@/server/common/refusal";
import { zipFile } from "@/server/jobs/archive";
import { outboxGroups } from "@/server/services/outbox/outbox";
import type { Workspace } from "@/server/services/workspace/workspace";
import { fileResponse, temporaryPath } from "./download";

/**
 * Several files of the outbox in one archive, in the folders they lie in.
 * @param run those of one run alone; null for all that the one who works here may take
 * @throws Refusal 404 where there is none
 */
export async function allFiles(ws: Workspace, run: string | null): Promise<Response> {
  const files = outboxGroups(ws)
    .filter((group) => run === null || group.maker?.run === run)
    .flatMap((group) => group.files);
  if (files.length === 0) throw new Refusal(404, "These files are no longer in the outbox.");
  const path = temporaryPath(ws.folder, "zip");
  await zipFile(path, async (add) => {
    for (const file of files) await add(file.path, createReadStream(join(ws.outbox, file.path)));
  });
  ws.record(
    "downloaded from the outbox",
    files
      .map((f) => f.path)
      .join(", ")
      .slice(0, 500),
  );
  return fileResponse(path, "outbox.zip", true);
}
