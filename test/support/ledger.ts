import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import { afterAll } from "vitest";
import { Catalogue } from "@/server/catalogue/catalogue";
import { Objects } from "@/server/catalogue/objects";
import { People, type Person } from "@/server/catalogue/people";
import { Engine } from "@/server/engine/engine";
import { Workspace } from "@/server/services/workspace/workspace";

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

/** A ledger without processes and without a business database: its catalogue, its people, its outbox. */
export function bareLedger(now: () => Date = () => new Date()) {
  const { folder, remove } = temporaryFolder();
  const catalogue = new Catalogue(folder, resolve("src/server/catalogue/migrations"), now);
  const people = new People(catalogue.db, now);
  /** The ledger as a person has it; nobody is its own work. */
  const as = (person: Person | null = null): Workspace =>
    Object.create(Workspace.prototype, {
      folder: { value: folder },
      catalogue: { value: catalogue },
      people: { value: people },
      signedIn: { value: person },
      objects: { value: new Objects(catalogue, people, person) },
      outbox: { value: join(folder, "outbox") },
      now: { value: now },
    }) as Workspace;
  const close = () => {
    catalogue.close();
    remove();
  };
  return { folder, catalogue, people, as, close };
}

/** All rows of a statement over a file, as lists of values. */
export function allRows(path: string, sql: string): unknown[] {
  const db = new Database(path, { readonly: true });
  try {
    return db.prepare(sql).raw().all();
  } finally {
    db.close();
  }
}
