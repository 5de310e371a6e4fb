import { randomUUID } from "node:crypto";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { Engine } from "@/server/engine/engine";
import { CopyKeeper } from "@/server/source/columnar/keeper";
import { isServer } from "@/server/source/postgres/address";
import { Workspace } from "./workspace";

/* The one workspace of a server process, and what it is opened with. */

const HERE = Symbol.for("next-ledger.workspace");
type Global = { [HERE]?: Workspace };

/** The machine's clock; or, for tests and pictures, one that starts at the instant in NEXT_LEDGER_NOW (ISO 8601). */
function clock(): () => Date {
  const begins = Date.parse(process.env.NEXT_LEDGER_NOW ?? "");
  if (Number.isNaN(begins)) return () => new Date();
  const since = Date.now();
  return () => new Date(begins + Date.now() - since);
}

/** An engine whose processes ask the columnar copy of a database, and what keeps that. */
export function withCopy(root: string, folder: string, database: () => string): { engine: Engine; copy: CopyKeeper } {
  // Paths of sockets are short on every system.
  const socket = join(tmpdir(), `next-ledger-${randomUUID().slice(0, 12)}.sock`);
  return {
    engine: new Engine(join(root, "dist/engine.mjs"), undefined, { NEXT_LEDGER_COPY: socket }),
    copy: new CopyKeeper(join(root, "dist/columnar.mjs"), join(folder, "columnar"), database, socket),
  };
}

/** The workspace of this server process, opened at the first call from NEXT_LEDGER_DATA and NEXT_LEDGER_DATABASE. */
export function workspace(): Workspace {
  const here = globalThis as Global;
  if (!here[HERE]) {
    const folder = resolve(process.env.NEXT_LEDGER_DATA ?? "data");
    const named = process.env.NEXT_LEDGER_DATABASE ?? join(folder, "business.sqlite");
    const database = isServer(named) ? named : resolve(named);
    const { engine, copy } = withCopy(process.cwd(), folder, () => ws.database);
    const ws: Workspace = new Workspace(folder, database, process.cwd(), clock(), engine, copy);
    copy.allow(isServer(database) || ws.wantsCopy);
    here[HERE] = ws;
  }
  return here[HERE];
}
