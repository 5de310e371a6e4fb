import { readFileSync, statSync } from "node:fs";
import { basename, extname } from "node:path";
import type { FileFormat } from "@/core/import/spec";
import { withEntries } from "@/server/jobs/archive";
import { findFormat } from "@/server/jobs/import/format";
import { readRecords } from "@/server/jobs/import/records";
import { type ReadMessage, readMessage } from "./message";

/** What is shown of a file of the outbox before it is fetched. */
export type Preview =
  | { kind: "pages" | "picture" }
  | { kind: "rows"; heading: string[]; rows: string[][]; more: boolean }
  | { kind: "names"; names: string[]; more: boolean }
  | { kind: "message"; message: ReadMessage }
  | { kind: "none"; why: "large" | "unknown" };

const MOST_ROWS = 50;
const MOST_NAMES = 200;
/** What cannot be read row by row is read only up to this size. */
const MOST_WHOLE_BYTES = 10_000_000;

/** The first rows of a file of rows, or of the names in an archive; a message as whoever gets it reads it. */
export async function previewOf(path: string): Promise<Preview> {
  const { size } = statSync(path);
  const whole = size <= MOST_WHOLE_BYTES;
  switch (extname(path).toLowerCase()) {
    case ".pdf":
      return { kind: "pages" };
    case ".png":
      return { kind: "picture" };
    case ".eml":
      return whole ? { kind: "message", message: await readMessage(readFileSync(path)) } : { kind: "none", why: "large" };
    case ".zip":
      return namesOf(path);
    case ".csv":
    case ".ndjson":
      return firstRows(path);
    case ".xlsx":
    case ".json":
      return whole ? firstRows(path) : { kind: "none", why: "large" };
    default:
      return { kind: "none", why: "unknown" };
  }
}

async function firstRows(path: string): Promise<Preview> {
  if (statSync(path).size === 0) return { kind: "rows", heading: [], rows: [], more: false };
  const { format } = await findFormat(path, basename(path));
  const records: string[][] = [];
  for await (const batch of readRecords(path, headed(format))) {
    records.push(...batch.records);
    if (records.length > MOST_ROWS + 1) break;
  }
  const [heading = [], ...rows] = records;
  return { kind: "rows", heading, rows: rows.slice(0, MOST_ROWS), more: rows.length > MOST_ROWS };
}

/** What the ledger wrote always has its headings in the first line. */
const headed = (format: FileFormat): FileFormat => (format.kind === "delimited" ? { ...format, delimiter: ",", quote: '"', heading: true } : format);

async function namesOf(path: string): Promise<Preview> {
  const names = await withEntries(path, async (entries) => {
    const found: string[] = [];
    for await (const { filename } of entries) if (found.push(filename) > MOST_NAMES) break;
    return found;
  });
  return { kind: "names", names: names.slice(0, MOST_NAMES), more: names.length > MOST_NAMES };
}
