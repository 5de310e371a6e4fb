import { rmSync } from "node:fs";
import type { TableToCopy } from "@/core/query/onCopy";

import { versionOf } from "@/server/source/sqlite/version";
import { Changed } from "./copyTable";
import { serveReadings, threadsHere } from "./serve";
import { ColumnarStore, type CopyState } from "./store";

/*
 * The process that has the columnar copy: it alone may write to it, so all that is asked of it is asked here. Built to
 * dist/columnar.mjs; begun with the folder of the copy, the database and the socket.
 */

export type ToCopier = { keep: TableToCopy[] } | { stop: true };
export type FromCopier = { ready: true } | { state: CopyState } | { failed: string };

/** How often it is looked whether the database is as it was; nobody is kept waiting meanwhile. */
const LOOK_MS = 500;

const [folder = "", database = "", socket = ""] = process.argv.slice(2);
const tell = (message: FromCopier): void => void process.send?.(message, undefined, undefined, () => {});

// Who else works on this machine cannot come to the socket or the copy.
process.umask(0o077);

let wanted: TableToCopy[] = [];
let stopped = false;
let store: ColumnarStore;
try {
  store = await ColumnarStore.open(folder, database, threadsHere(), () => tell({ state: store.state }));
} catch (error) {
  tell({ failed: error instanceof Error ? error.message : String(error) });
  process.exit(1);
}
const server = serveReadings(store, socket);
server.on("listening", () => tell({ ready: true }));
server.on("error", (error) => {
  tell({ failed: error.message });
  process.exit(1);
});

process.on("message", (message: ToCopier) => {
  if ("keep" in message) wanted = message.keep;
  else stopped = true;
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
    if (!stopped && stands) await store.refresh(wanted, () => stopped);
  } catch (error) {
    if (!(error instanceof Changed)) tell({ failed: error instanceof Error ? error.message : String(error) });
  }
  await new Promise((done) => setTimeout(done, LOOK_MS));
}
