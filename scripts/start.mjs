import { createHash } from "node:crypto";
import { existsSync, openSync, readSync, realpathSync } from "node:fs";
import { basename, join, resolve } from "node:path";
import { parseArgs } from "node:util";
import Database from "better-sqlite3";
import { freePort } from "./ports.mjs";
import { say } from "./run.mjs";
import { serve } from "./serve.mjs";

const fail = (words) => {
  console.error(words);
  process.exit(1);
};

/** The first 16 bytes of every SQLite 3 file (the SQLite file format, section 1.3). */
function checkDatabase(path) {
  if (!existsSync(path)) fail(`There is no file “${path}”. See that the path is right.`);
  const head = Buffer.alloc(16);
  readSync(openSync(path, "r"), head, 0, 16, 0);
  if (head.toString("latin1") !== "SQLite format 3\0") fail(`“${path}” is not a SQLite database. Choose a file that is.`);
}

const isServer = (database) => /^postgres(ql)?:/i.test(database);

/** What is saved belongs to the database it was made on: each opened one has its own folder, unless one is named. */
const folderOf = (database, name) => join(home, "opened", `${name}-${createHash("sha256").update(database).digest("hex").slice(0, 8)}`);

/** A database on a server, once it could be opened; its password goes by the environment and is written nowhere. */
async function reach(written) {
  const { reachServer } = await import("../dist/check-server.mjs");
  const { address, password, name } = await reachServer(written).catch((error) => fail(error.message));
  if (password !== undefined) process.env.PGPASSWORD = password;
  return { address, name };
}

/** Beyond this machine the ledger is open only to those who sign in: there must be an owner who can. */
function mayListen(folder, host) {
  if (!host) fail("Say under which name others reach it: --listen 0.0.0.0 --host ledger.example.org");
  const path = join(folder, "catalogue.sqlite");
  const owners = existsSync(path) ? ownersIn(path) : 0;
  if (owners === 0) fail("Listening beyond this machine needs accounts. Start it here first, and make an owner’s account with a password under People.");
}

function ownersIn(path) {
  const db = new Database(path, { readonly: true });
  try {
    return db.prepare("SELECT COUNT(*) FROM person WHERE role = 'owner' AND NOT barred AND password IS NOT NULL").pluck().get();
  } catch {
    return 0;
  } finally {
    db.close();
  }
}

let options;
try {
  options = parseArgs({ options: { database: { type: "string" }, port: { type: "string" }, listen: { type: "string" }, host: { type: "string" } } }).values;
} catch (error) {
  fail(`${error.message} npm start -- [--database FILE.sqlite | postgres://user@host:5432/database] [--port 4310] [--listen ADDRESS --host NAME]`);
}
if (!existsSync(".next/BUILD_ID")) fail("There is no build yet. Run “npm run demo” once, or “npm install” and “npm run build”.");

const home = resolve(process.env.NEXT_LEDGER_DATA ?? "data");
let data = home;
let database;
if (options.database) {
  let name;
  if (isServer(options.database)) ({ address: database, name } = await reach(options.database));
  else {
    checkDatabase(options.database);
    database = realpathSync(options.database);
    name = basename(database).replace(/\.[^.]*$/, "");
  }
  if (!process.env.NEXT_LEDGER_DATA) data = folderOf(database, name);
} else if (!existsSync(join(home, "business.sqlite")))
  fail("There is no database here yet. Run “npm run demo” for the demo company, or name a file: npm start -- --database FILE.sqlite");

if (options.listen) mayListen(data, options.host);
else if (options.host) fail("--host names the ledger to others, for --listen. Give both, or neither.");

try {
  const port = await freePort(Number(options.port ?? process.env.PORT ?? 4310));
  const server = await serve({ data, database, port, listen: options.listen, env: options.host ? { NEXT_LEDGER_HOSTS: options.host } : {} });
  say(`Next Ledger is open at ${server.address} (Ctrl C ends it)`);
  if (options.listen)
    say(
      `It listens on ${options.listen}:${port} as ${options.host}. It speaks plain HTTP: put a proxy in front of it that takes HTTPS for https://${options.host}, ` +
        "passes the Host header on, and sets X-Forwarded-Proto to https. Without one, passwords and figures cross the network for anyone to read.",
    );
  for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.stop().then(() => process.exit(0)));
} catch (error) {
  fail(error.message);
}
