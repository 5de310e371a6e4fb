import { randomUUID } from "node:crypto";
import { createReadStream, mkdirSync, rmSync, statSync, unlinkSync } from "node:fs";
import { join } from "node:path";
import { Readable } from "node:stream";
import { fileName } from "@/server/common/fileName";
import type { Workspace } from "@/server/services/workspace/workspace";

/** A fresh place for a file that is made for one download. */
export function temporaryPath(folder: string, extension: string): string {
  const at = join(folder, "tmp");
  mkdirSync(at, { recursive: true });
  return join(at, `${randomUUID()}.${extension}`);
}

/** RFC 6266: the name in ASCII, and whole in UTF-8. */
export const disposition = (name: string): string =>
  `attachment; filename="${name.replace(/[^\x20-\x7e]|["\\]/g, "_")}"; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`)}`;

const TYPES: Record<string, string> = {
  csv: "text/csv; charset=utf-8; header=present",
  tsv: "text/tab-separated-values; charset=utf-8",
  pdf: "application/pdf",
  html: "text/html; charset=utf-8",
  png: "image/png",
  xlsx: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
  json: "application/json",
  ndjson: "application/x-ndjson",
  zip: "application/zip",
  eml: "message/rfc822",
};

/** Sends a file, streamed: as a download, or to be shown in a page. A temporary one is gone once it is open. */
export function fileResponse(path: string, name: string, temporary: boolean, shown = false): Response {
  const { size } = statSync(path);
  const stream = createReadStream(path);
  if (temporary) stream.once("open", () => unlinkSync(path));
  const type = TYPES[name.split(".").at(-1) ?? ""] ?? "application/octet-stream";
  return new Response(Readable.toWeb(stream) as ReadableStream, {
    headers: {
      "content-type": type,
      "content-length": String(size),
      "content-disposition": shown ? "inline" : disposition(name),
      "x-content-type-options": "nosniff",
    },
  });
}

/**
 * Hands out what was made to be taken away, once that stands in the log.
 * @throws what the log failed with; then the file is gone, and nothing was handed out
 */
export function exportResponse(ws: Workspace, path: string, name: string, format: string): Response {
  try {
    ws.record("exported", `${name}, ${format.toUpperCase()}`);
  } catch (error) {
    rmSync(path, { force: true });
    throw error;
  }
  return fileResponse(path, fileName(name, format), true);
}
