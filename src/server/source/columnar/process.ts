import { rmSync } from "node:fs";
import type { TableToCopy } from "@/core/query/onCopy";
import { LARGE } from "@/server/source/large";
import { isServer } from "@/server/source/postgres/address";
import { versionOf } from "@/server/source/sqlite/version";
import type { ColumnarStore, CopyState } from "./store";

/*
 * The process that has the columnar copy: it alone may write to it, so all that is asked of it is asked here. Built to
 * dist/columnar.mjs; begun with the folder of the copy, the database and the socket.
 */

/**
 * The tables that are to be kept. `due`: of a server, the moment (ISO 8601) since which they must have been read again;
 * `ahead`: how far the ledger's clock is before the machine's (ms).
 */
export type ToCopier = { keep: TableToCopy[]; due: string; ahead: number };
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

let { keep: wanted, due, ahead }: ToCopier = { keep: [], due: "", ahead: 0 };
/** Until then (ms of the process) a server is let rest that could not be read. */
let rested = 0;
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
  // What is due anew is tried at once.
  if (message.due !== due) rested = 0;
  ({ keep: wanted, due, ahead } = message);
});
process.on("disconnect", () => process.exit(0));
process.on("exit", () => rmSync(socket, { force: true }));

let seen: string | null = null;
async function refresh(of: ColumnarStore): Promise<void> {
  // What the ledger itself just changed is told in a moment: only what stands is copied.
  const now = versionOf(database);
  const stands = now !== null && now === seen;
  seen = now;
  if (stands) await of.refresh(wanted);
}

const REST_MS = 30_000;
async function renew(of: ColumnarStore): Promise<void> {
  await of.keepOnly(wanted);
  // Of a small table that came or changed the server is asked until all are copied the next time.
  const large = wanted.filter((t) => t.rows >= LARGE);
  if (performance.now() < rested || !of.isBehind(large, due)) return;
  rested = performance.now() + REST_MS;
  const { ofOneMoment } = await import("./copyServer");
  // What is changed from now on may be in it or not: it is as of this moment at the earliest.
  const at = new Date(Date.now() + ahead).toISOString();
  await ofOneMoment(database, (copy) => of.renew(wanted, at, copy));
  rested = 0;
}

for (;;) {
  try {
    if (store) await (isServer(database) ? renew(store) : refresh(store));
  } catch (error) {
    tellFailed(wordsOf(error));
  }
  await new Promise((done) => setTimeout(done, LOOK_MS));
}
