import { statSync } from "node:fs";
import { JobFailure } from "@/server/source/failures";

/** What tells one state of a database file from the next, with the log of changes beside it, where there is anything in it. @throws JobFailure where it is gone */
export function fileStamp(path: string): string {
  const wal = statSync(`${path}-wal`, { throwIfNoEntry: false });
  const file = statSync(path, { throwIfNoEntry: false });
  if (!file) throw new JobFailure("notFound");
  return [file, ...(wal?.size ? [wal] : [])].map(({ mtimeMs, size, ino }) => `${mtimeMs} ${size} ${ino}`).join(" ");
}
