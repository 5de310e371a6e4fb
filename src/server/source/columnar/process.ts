import { rmSync } from "node:fs";
import type { TableToCopy } from "@/core/query/onCopy";
import { versionOf } from "@/server/source/sqlite/version";
import type { ColumnarStore, CopyState } from "./store";

/*
 * The process that has the columnar copy: it alone may write to it, so all that is asked of it is asked here. Built to
 * dist/columnar.mjs; begun with the folder of the copy, the database and the socket.
 */

export type ToCopier = { keep: TableToCopy[] };
export type FromCopier = { ready: true } | { state: CopyState } | { failed: string };

/** How often it is looked whether the database is as it was; nobody is kept waiting meanwhile. */
const LOOK_MS = 500;

const [folder = "", database = "", socket = ""] = process.argv.slice(2);
const tell = (message: FromCopier): void => void process.send?.(message, undefined, undefined, () => {});

// Who else works on this machine cannot come to the socket or the copy.
process.umask(0o077);

const tellFailed = (failed: string, told: () => void = () => {}): void => {
  const message: FromCopier = { failed };
  process.send?.(message, undefined, undefined, told);
};
const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
const fails = (words: string): void => tellFailed(words, () => process.exit(1));
/** Whether a package is not there, or was made for another system. */
const notLoaded = (error: unknown): boolean => /MODULE_NOT_FOUND|ERR_DLOPEN_FAILED/.test(String((error as { code?: unknown }).code));

let wanted: TableToCopy[] = [];
let store: ColumnarStore | undefined;
try {
  // Where the copy's engine cannot be loaded, that is told as well.
  const [{ serveReadings, threadsHere }, { ColumnarStore: Store }] = await Promise.all([import("./serve"), import("./store")]);
  store = await Store.open(folder, database, threadsHere(), () => store && tell({ state: store.state }));
  const server = serveReadings(store, socket);
  server.on("listening", () => tell({ ready: true }));
  server.on("error", (error) => fails(wordsOf(error)));
} catch (error) {
  fails(notLoaded(error) ? "its engine (@duckdb/node-api) is not installed on this machine, or not for its system." : wordsOf(error));
}

process.on("message", (message: ToCopier) => {
  wanted = message.keep;
});
process.on("disconnect", () => process.exit(0));
process.on("exit", () => rmSync(socket, { force: true }));

let seen: string | null = null;
for (;;) {
  try {
    // What the ledger itself just changed is told in a moment: only what stands is copied.
    const now = versionOf(database);
    const stands = now !== null && now === seen;
    seen = now;
    if (stands) await store?.refresh(wanted);
  } catch (error) {
    tellFailed(wordsOf(error));
  }
  await new Promise((done) => setTimeout(done, LOOK_MS));
}
