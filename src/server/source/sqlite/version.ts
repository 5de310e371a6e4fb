import { openSync, readSync, statSync } from "node:fs";
import { JobFailure } from "@/server/source/failures";

/*
 * What tells one state of a database file from the next, read beside the file and without a lock:
 *
 *   rollback journal   the file change counter in the header, which each transaction that writes adds to
 *   write-ahead log    the header of its index in shared memory, which each commit changes (a checksum of all frames is in it)
 *
 * Neither hangs on a clock, as times of files do, which move in steps of milliseconds. Source: sqlite.org, "Database File
 * Format" 1.3.7 and "WAL-mode File Format" 2.1, read from memory.
 */

const HEADER = 100;
const COUNTER_AT = 24;
const WRITE_VERSION_AT = 18;
const INDEX_HEADER = 48;

/**
 * Files that are looked into, never closed again: POSIX takes all locks of a process on a file away when any of its
 * descriptors is closed, those of SQLite's connections too (sqlite.org, "How To Corrupt An SQLite Database File" 2.2).
 */
const open = new Map<string, { file: string; descriptor: number }>();

function descriptorOf(path: string): number | null {
  const stat = statSync(path, { throwIfNoEntry: false, bigint: true });
  if (!stat) return null;
  const file = `${stat.dev} ${stat.ino}`;
  const known = open.get(path);
  if (known?.file === file) return known.descriptor;
  try {
    const descriptor = openSync(path, "r");
    open.set(path, { file, descriptor });
    return descriptor;
  } catch {
    return null;
  }
}

function begins(path: string, bytes: number): Buffer | null {
  const descriptor = descriptorOf(path);
  if (descriptor === null) return null;
  const buffer = Buffer.alloc(bytes);
  return readSync(descriptor, buffer, 0, bytes, 0) === bytes ? buffer : null;
}

/**
 * @returns null where it cannot be told: the log is there without its index, or the index is being written
 * @throws JobFailure notFound where the file is gone
 */
export function versionOf(path: string): string | null {
  const stat = statSync(path, { throwIfNoEntry: false, bigint: true });
  if (!stat) throw new JobFailure("notFound");
  const header = begins(path, HEADER);
  // A file that nothing was written to has no header.
  if (!header) return stat.size === 0n ? `${stat.dev} ${stat.ino} empty` : null;
  const file = `${stat.dev} ${stat.ino}`;
  const log = statSync(`${path}-wal`, { throwIfNoEntry: false });
  if (header[WRITE_VERSION_AT] === 2 && log && log.size > 0) {
    // Its header stands there twice; while the two differ it is being written.
    const index = begins(`${path}-shm`, 2 * INDEX_HEADER);
    if (!index?.subarray(0, INDEX_HEADER).equals(index.subarray(INDEX_HEADER))) return null;
    // Where whoever wrote last was killed, the index may be of before; the log itself tells.
    return `${file} log ${index.subarray(0, INDEX_HEADER).toString("hex")} ${log.size} ${log.mtimeMs}`;
  }
  return `${file} file ${header.readUInt32BE(COUNTER_AT)} ${stat.size} ${stat.mtimeNs}`;
}
