import { rmSync } from "node:fs";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { makeDatabase, temporaryFolder } from "../../../../test/support/ledger";
import { changing } from "./run";

/** What somebody else does just before the file is looked at. */
let meanwhile: (() => void)[] = [];
vi.mock("@/server/source/sqlite/fileStamp", async (original) => {
  const real = await original<typeof import("@/server/source/sqlite/fileStamp")>();
  return {
    fileStamp: (path: string) => {
      meanwhile.shift()?.();
      return real.fileStamp(path);
    },
  };
});

describe.each(["delete", "wal"])("a change in a database whose journal is %s", (journal) => {
  const place = temporaryFolder();
  const path = `${place.folder}/t.sqlite`;
  const { fileStamp } = { fileStamp: async () => (await import("@/server/source/sqlite/fileStamp")).fileStamp(path) };
  let other: Database.Database;
  beforeEach(() => {
    meanwhile = [];
    makeDatabase(path, `PRAGMA journal_mode = ${journal}; CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER); INSERT INTO t VALUES (1, 1);`);
    other = new Database(path, { timeout: 50 });
  });
  afterEach(() => {
    other.close();
    for (const end of ["", "-wal", "-shm"]) rmSync(path + end, { force: true });
  });
  const write = (n: number) => changing(path, (db) => db.prepare("UPDATE t SET n = ?").run(n).changes);
  const elsewhere = () => void other.prepare("INSERT INTO t (n) VALUES (9)").run();

  it("is told with the states of the file before and after it", async () => {
    const before = await fileStamp();
    const { result, states } = write(2);
    expect(result).toBe(1);
    expect(states).toEqual({ before, after: await fileStamp() });
    expect(states.after).not.toBe(before);
    expect(other.prepare("SELECT n FROM t").pluck().get()).toBe(2);
  });

  it("says so where somebody else wrote before the file was looked at", () => {
    meanwhile = [() => {}, elsewhere];
    expect(write(3).states.after).toBeNull();
    expect(other.prepare("SELECT SUM(n) FROM t").pluck().get()).toBe(12);
  });

  it("keeps others out from the first look to the commit", () => {
    meanwhile = [elsewhere];
    expect(() => write(4)).toThrow(/locked/);
    expect(other.prepare("SELECT SUM(n) FROM t").pluck().get()).toBe(1);
  });

  it("leaves nothing where the work fails", () => {
    expect(() =>
      changing(path, (db) => {
        db.exec("DELETE FROM t");
        throw new Error("no");
      }),
    ).toThrow("no");
    expect(other.prepare("SELECT COUNT(*) FROM t").pluck().get()).toBe(1);
  });
});
