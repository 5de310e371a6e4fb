import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import { afterAll } from "vitest";
import { Engine } from "@/server/engine/engine";
import { Workspace } from "@/server/workspace/workspace";

/** A folder of its own for a test, gone afterwards. */
export function temporaryFolder(): { folder: string; remove: () => void } {
  const folder = mkdtempSync(join(tmpdir(), "next-ledger-"));
  return { folder, remove: () => rmSync(folder, { recursive: true, force: true }) };
}

/** A SQLite file made by a script. */
export function makeDatabase(path: string, script: string): string {
  const db = new Database(path);
  db.exec(script);
  db.close();
  return path;
}

let processes: Engine | null = null;
afterAll(() => processes?.close());

/** The processes that all ledgers of a test file share, as one ledger's own: closing it leaves them to the others. */
function sharedEngine(): Engine {
  processes ??= new Engine(resolve("dist/engine.mjs"));
  return Object.create(processes, { close: { value: () => {} } }) as Engine;
}

/** A ledger without its web server, on a database and with a clock that the test moves. Needs the built engine. */
export function openLedger(folder: string, database: string, now?: () => Date): Workspace {
  return new Workspace(folder, database, resolve("."), now, sharedEngine());
}
