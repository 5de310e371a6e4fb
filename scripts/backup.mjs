import { cpSync, existsSync, mkdirSync, renameSync, rmSync } from "node:fs";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import { say } from "./run.mjs";

/*
 * Copies a data folder while the application runs: npm run backup -- TARGET. Each database is copied by SQLite's own backup,
 * which is of one moment whatever is written meanwhile; then the files of the outbox, of imports and of the inbox.
 */
const target = process.argv[2] && resolve(process.argv[2]);
const data = resolve(process.env.NEXT_LEDGER_DATA ?? "data");
const named = process.env.NEXT_LEDGER_DATABASE ?? join(data, "business.sqlite");
const isServer = /^postgres(ql)?:/i.test(named);

/** Copies one database: whole under its name, or not at all. */
async function copy(from, to) {
  const db = new Database(from, { readonly: true, fileMustExist: true });
  try {
    await db.backup(`${to}.part`);
    renameSync(`${to}.part`, to);
  } finally {
    db.close();
    rmSync(`${to}.part`, { force: true });
  }
}

try {
  if (!target) throw new Error("Name a folder for the copy: npm run backup -- FOLDER");
  if (existsSync(join(target, "catalogue.sqlite"))) throw new Error(`“${target}” has a copy already. Choose another folder.`);
  mkdirSync(target, { recursive: true });
  // The catalogue first: what it says of a posting is in the journal of the database that is copied after it.
  await copy(join(data, "catalogue.sqlite"), join(target, "catalogue.sqlite"));
  if (!isServer) await copy(resolve(named), join(target, "business.sqlite"));
  for (const folder of ["outbox", "imports", "inbox"])
    if (existsSync(join(data, folder))) cpSync(join(data, folder), join(target, folder), { recursive: true });
  say(`Copied to ${target}${isServer ? ". The database is on its server: back it up there, with the schema next_ledger." : ""}`);
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
