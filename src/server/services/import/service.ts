import { createHash, randomUUID } from "node:crypto";
import { mkdirSync, rmSync, writeFileSync } from "node:fs";
import { open } from "node:fs/promises";
import { join } from "node:path";
import { Readable } from "node:stream";
import { z } from "zod";
import { shownWith } from "@/core/import/numbers";
import type { Clean, FileFormat, ImportSpec } from "@/core/import/spec";
import { pairsByName } from "@/core/posting/plan";
import type { PostingSpec } from "@/core/posting/spec";
import { pairsByValues, valueCandidates } from "@/core/posting/valuePairs";
import { findTable } from "@/core/schema/schema";
import { isNumber } from "@/core/types/valueType";
import { Refusal } from "@/server/common/refusal";
import type { JobResult } from "@/server/engine/protocol";
import type { Imported } from "@/server/jobs/import/run";
import type { Scan } from "@/server/jobs/import/scan";
import type { Workspace } from "@/server/services/workspace/workspace";
import { type BroughtFile, broughtFile, importFolder } from "./files";
import { keepReadAs } from "./next";

const MOST_BYTES = 4 * 1024 ** 3;
const TIME_LIMIT_MS = 3_600_000;

type Caller = { client: string; signal?: AbortSignal | undefined; onProgress?: (share: number) => void };

/** What is said of a file that is sent: its name, its length in bytes, and its SHA-256 in hexadecimal where the browser could make one. */
export const sentSchema = z.object({
  name: z.string().max(300).default("file"),
  bytes: z.coerce.number().int().min(0),
  sha256: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .optional(),
});

/**
 * Keeps a file that was dropped or pasted, as it came.
 * @throws Refusal 400 where less or something else arrived than was sent; then nothing is kept
 */
export async function keepFile(ws: Workspace, sent: z.infer<typeof sentSchema>, body: ReadableStream<Uint8Array> | null): Promise<BroughtFile> {
  const { name } = sent;
  if (!body) throw new Refusal(400, "No file was received. Try again.");
  const id = randomUUID();
  const folder = importFolder(ws, id);
  mkdirSync(folder, { recursive: true });
  const file = { id, name: name.slice(0, 300), bytes: sent.bytes };
  try {
    const { bytes, sha256 } = await writeWhole(body, join(folder, "file"));
    if (bytes !== sent.bytes) throw new Refusal(400, `The upload is incomplete: ${bytes} of ${sent.bytes} bytes. Try again.`);
    if (sent.sha256 !== undefined && sha256 !== sent.sha256) throw new Refusal(400, "The upload is damaged. Try again.");
    writeFileSync(join(folder, "file.json"), JSON.stringify(file));
    return file;
  } catch (error) {
    rmSync(folder, { recursive: true, force: true });
    throw error;
  }
}

/**
 * Writes what comes to a file. Where it cannot be written, the rest is let by all the same: a browser that is cut off while
 * it sends does not hear why.
 * @throws what writing failed by; Refusal 413 where it is too large
 */
async function writeWhole(body: ReadableStream<Uint8Array>, path: string): Promise<{ bytes: number; sha256: string }> {
  let bytes = 0;
  let failed: unknown = null;
  const digest = createHash("sha256");
  const file = await open(path, "wx");
  try {
    for await (const chunk of Readable.fromWeb(body as import("node:stream/web").ReadableStream) as AsyncIterable<Buffer>) {
      bytes += chunk.length;
      if (bytes > MOST_BYTES) throw new Refusal(413, "The file is larger than 4 GB. Split it.");
      digest.update(chunk);
      failed ??= await file.writeFile(chunk).then(
        () => null,
        (error: unknown) => error,
      );
    }
  } finally {
    await file.close();
  }
  if (failed) throw failed;
  return { bytes, sha256: digest.digest("hex") };
}

export type ScanAnswer = JobResult["scanFile"];
/** One of a file that can be read so. */
export type Scanned = ScanAnswer & { scan: Scan };

/** What a file holds, read as found out, or as a person says, its columns cleaned as is said; or why nothing can be read of it so. */
export function scanAnswerOf(
  ws: Workspace,
  id: string,
  format: FileFormat | null,
  { onProgress, ...caller }: Caller,
  cleans: (Clean | undefined)[] = [],
): Promise<ScanAnswer> {
  const { path, name } = broughtFile(ws, id);
  return ws.engine.run<"scanFile">({ kind: "scanFile", path, name, format, cleans }, { ...caller, onProgress, timeLimitMs: TIME_LIMIT_MS });
}

/** The same of a file that must be readable so. @throws Refusal where it is not */
export async function scanOf(...asked: Parameters<typeof scanAnswerOf>): Promise<Scanned> {
  const answer = await scanAnswerOf(...asked);
  if (!answer.scan) throw new Refusal(422, answer.refused);
  return answer;
}

/** Takes a file in: into a new table, or staged as the source of a draft posting. */
export async function importOf(
  ws: Workspace,
  id: string,
  spec: ImportSpec,
  { onProgress, ...caller }: Caller,
): Promise<{ imported: Imported; posting: string | null }> {
  const { path, name } = broughtFile(ws, id);
  const options = { ...caller, onProgress, timeLimitMs: TIME_LIMIT_MS };
  if (spec.into.kind === "table") {
    const entry = {
      at: ws.now().toISOString(),
      by: ws.person,
      kind: "table" as const,
      name: `${spec.into.name}, from ${name}`,
      brief: `Create the table ${spec.into.name} from the rows of ${name}.`,
      table: spec.into.name,
    };
    const imported = await ws.engine.run<"importFile">({ kind: "importFile", path, spec, into: { kind: "table", database: ws.database, entry } }, options);
    for (const { name: column, type, left, affix } of spec.columns)
      if (!left && affix && isNumber(type)) ws.catalogue.setColumn(spec.into.name, column, shownWith(affix));
    rmSync(importFolder(ws, id), { recursive: true, force: true });
    return { imported, posting: null };
  }
  const schema = await ws.schema();
  const target = findTable(schema, spec.into.target);
  if (!target) throw new Refusal(404, "The target table does not exist any more. Choose another.");
  const staged = join(importFolder(ws, id), "staged.sqlite");
  const imported = await ws.engine.run<"importFile">({ kind: "importFile", path, spec, into: { kind: "stage", path: staged } }, options);
  writeFileSync(join(importFolder(ws, id), "staged.json"), JSON.stringify(imported.table));
  await keepReadAs(ws, id, spec, { ...caller, timeLimitMs: TIME_LIMIT_MS });
  const named = pairsByName(imported.table, target, schema);
  const candidates = valueCandidates(imported.table, target, schema, named);
  const shares = await ws.engine.run<"valueShares">({ kind: "valueShares", database: ws.database, staged, candidates }, options);
  const pairs = [...named, ...pairsByValues(candidates, shares)];
  const same = target.key.filter((k) => pairs.some((p) => p.column === k));
  const draft: PostingSpec = {
    version: 1,
    source: { kind: "file", id, name },
    action: "add",
    target: target.name,
    same,
    present: "leave",
    breaking: "refuse",
    pairs,
  };
  return { imported, posting: ws.objects.create("posting", name.replace(/\.[^.]*$/, ""), draft).id };
}
