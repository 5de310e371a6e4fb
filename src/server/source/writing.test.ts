import { rmSync } from "node:fs";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { changing } from "@/server/source/writing";
import { makeDatabase, temporaryFolder } from "../../../test/support/ledger";

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

/** What the copy was told to have moved. */
const moved: unknown[] = [];
vi.mock("@/server/source/columnar/watch", () => ({ watchRows: () => ({ moved: (...told: unknown[]) => moved.push(told) }) }));
/** What somebody else does just before the file's version is looked at. */
let looking: (() => void)[] = [];
vi.mock("@/server/source/sqlite/version", async (original) => {
  const real = await original<typeof import("@/server/source/sqlite/version")>();
  return {
    versionOf: (path: string) => {
      looking.shift()?.();
      return real.versionOf(path);
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
    looking = [];
    moved.length = 0;
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

  it("is followed by the copy from one version to the next, where nobody else wrote", async () => {
    const { versionOf } = await import("@/server/source/sqlite/version");
    const from = versionOf(path);
    write(2);
    expect(moved).toEqual([[path, from, versionOf(path)]]);
    looking = [() => {}, elsewhere];
    write(3);
    expect(moved).toHaveLength(1);
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
