import { closeSync, openSync, readSync, statSync } from "node:fs";
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

function begins(path: string, bytes: number): Buffer | null {
  let file: number;
  try {
    file = openSync(path, "r");
  } catch {
    return null;
  }
  try {
    const buffer = Buffer.alloc(bytes);
    return readSync(file, buffer, 0, bytes, 0) === bytes ? buffer : null;
  } finally {
    closeSync(file);
  }
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
