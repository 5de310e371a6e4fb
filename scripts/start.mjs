import { createHash } from "node:crypto";
import { existsSync, openSync, readSync, realpathSync } from "node:fs";
import { basename, join, resolve } from "node:path";
import { parseArgs } from "node:util";
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

let options;
try {
  options = parseArgs({ options: { database: { type: "string" }, port: { type: "string" } } }).values;
} catch (error) {
  fail(`${error.message} npm start -- [--database FILE.sqlite] [--port 4310]`);
}
if (!existsSync(".next/BUILD_ID")) fail("There is no build yet. Run “npm run demo” once, or “npm install” and “npm run build”.");

const home = resolve(process.env.NEXT_LEDGER_DATA ?? "data");
let data = home;
let database;
if (options.database) {
  checkDatabase(options.database);
  database = realpathSync(options.database);
  // What is saved belongs to the file it was made on: each opened file has its own folder, unless one is named.
  const mark = createHash("sha256").update(database).digest("hex").slice(0, 8);
  if (!process.env.NEXT_LEDGER_DATA) data = join(home, "opened", `${basename(database).replace(/\.[^.]*$/, "")}-${mark}`);
} else if (!existsSync(join(home, "business.sqlite")))
  fail("There is no database here yet. Run “npm run demo” for the demo company, or name a file: npm start -- --database FILE.sqlite");

try {
  const server = await serve({ data, database, port: await freePort(Number(options.port ?? process.env.PORT ?? 4310)) });
  say(`Next Ledger is open at ${server.address} (Ctrl C ends it)`);
  for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.stop().then(() => process.exit(0)));
} catch (error) {
  fail(error.message);
}
