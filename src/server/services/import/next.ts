import { existsSync, lstatSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { type ReadAs, readAgain } from "@/core/import/again";
import type { PostingSource } from "@/core/posting/spec";
import type { Table } from "@/core/schema/schema";
import { namedFirst } from "@/core/types/list";
import { escaped } from "@/core/types/typed";
import { Refusal } from "@/server/common/refusal";
import type { Workspace } from "@/server/services/workspace/workspace";
import { broughtFile, importFolder } from "./files";

/* The next file of a posting that comes again: read as the one before it was. */

type Caller = { client: string; signal?: AbortSignal | undefined; timeLimitMs: number };

const readAsFile = (ws: Workspace, id: string): string => join(importFolder(ws, id), "read.json");

/** Keeps how a file was read, for those that come after it. */
export async function keepReadAs(ws: Workspace, id: string, spec: ReadAs["spec"], caller: Caller): Promise<void> {
  const headings = await ws.engine.run<"fileHeadings">({ kind: "fileHeadings", path: broughtFile(ws, id).path, format: spec.format }, caller);
  writeFileSync(readAsFile(ws, id), JSON.stringify({ spec, headings } satisfies ReadAs));
}

/** The folder in which files for postings are put, by a person or by another program. */
export function inboxFolder(ws: Workspace): string {
  const folder = join(ws.folder, "inbox");
  mkdirSync(folder, { recursive: true });
  return folder;
}

/** Files of the inbox that are whole: what is still being written has another name until it is, by common practice. */
export const inboxFiles = (ws: Workspace): string[] =>
  readdirSync(inboxFolder(ws)).filter((name) => !/^\.|\.(part|tmp)$/i.test(name) && lstatSync(join(inboxFolder(ws), name)).isFile());

const MOST_NAMED = 5;

/**
 * The newest file of the inbox whose name is like this.
 * @param like a name in which * stands for any characters
 * @throws Refusal where there is none, with those there are
 */
export function newestFile(ws: Workspace, like: string): { path: string; name: string } {
  const pattern = new RegExp(`^${like.split("*").map(escaped).join(".*")}$`, "isu");
  const there = inboxFiles(ws);
  const found = there
    .filter((name) => pattern.test(name))
    .map((name) => ({ name, path: join(inboxFolder(ws), name) }))
    .map((file) => ({ ...file, at: lstatSync(file.path).mtimeMs }))
    .sort((a, b) => b.at - a.at || (a.name < b.name ? 1 : -1))[0];
  if (found) return { path: found.path, name: found.name };
  const others = there.length === 0 ? "It is empty." : `It has: ${namedFirst(there, MOST_NAMED)}.`;
  throw new Refusal(404, `No file named like “${like}” is in the inbox. ${others}`);
}

/**
 * Stages a file as one before it was read.
 * @param as the id under which the other is kept
 * @throws Refusal where that is not kept, or the file lacks one of its columns; JobFailure "fileRefused" where it is no such file
 */
export async function stageAs(ws: Workspace, file: { path: string; name: string }, as: string, database: string, caller: Caller): Promise<Table> {
  const { spec } = await readAsOf(ws, file, as, caller);
  return (await ws.engine.run<"importFile">({ kind: "importFile", path: file.path, spec, into: { kind: "stage", path: database } }, caller)).table;
}

async function readAsOf(ws: Workspace, file: { path: string; name: string }, as: string, caller: Caller): Promise<ReadAs> {
  const kept = readAsFile(ws, as);
  if (!/^[\w-]{1,60}$/.test(as) || !existsSync(kept))
    throw new Refusal(404, "How the file is read is not stored any more. Import a file into this posting again.");
  const before = JSON.parse(readFileSync(kept, "utf8")) as ReadAs;
  const headings = await ws.engine.run<"fileHeadings">({ kind: "fileHeadings", path: file.path, format: before.spec.format }, caller);
  const { spec, missing } = readAgain(before, headings);
  if (missing.length > 0)
    throw new Refusal(422, `“${file.name}” has no column ${namedFirst(missing, MOST_NAMED)}. It has: ${namedFirst(headings, 20)}. Nothing was posted.`);
  return { spec, headings };
}

/** Takes a file that was brought in as the next one of a posting. @returns the posting's source */
export async function nextFile(ws: Workspace, id: string, as: string, caller: Caller): Promise<PostingSource> {
  const file = broughtFile(ws, id);
  const read = await readAsOf(ws, file, as, caller);
  const staged = join(importFolder(ws, id), "staged.sqlite");
  const job = { kind: "importFile" as const, path: file.path, spec: read.spec, into: { kind: "stage" as const, path: staged } };
  const { table } = await ws.engine.run<"importFile">(job, caller);
  writeFileSync(join(importFolder(ws, id), "staged.json"), JSON.stringify(table));
  writeFileSync(readAsFile(ws, id), JSON.stringify(read));
  return { kind: "file", id, name: file.name };
}
