import { closeSync, fsyncSync, mkdirSync, openSync, renameSync, rmSync, writeSync } from "node:fs";
import { dirname } from "node:path";

const PIECE = 64 * 1024;

function writeAll(handle: number, bytes: Buffer): void {
  for (let at = 0; at < bytes.length; ) at += writeSync(handle, bytes, at);
}

/** A file written under another name and moved into place when whole: nobody ever sees half of it. */
export class WholeFile {
  private readonly part: string;
  private readonly handle: number;
  private open = true;
  /** Small pieces go to the disk together: a PDF is made of a million of them. */
  private readonly waiting = Buffer.allocUnsafe(PIECE);
  private filled = 0;
  bytes = 0;

  constructor(private readonly path: string) {
    mkdirSync(dirname(path), { recursive: true });
    this.part = `${path}.part`;
    this.handle = openSync(this.part, "w");
  }

  write(chunk: string | Buffer): void {
    const buffer = typeof chunk === "string" ? Buffer.from(chunk) : chunk;
    this.bytes += buffer.length;
    if (this.filled + buffer.length > PIECE) this.flush();
    if (buffer.length > PIECE) writeAll(this.handle, buffer);
    else this.filled += buffer.copy(this.waiting, this.filled);
  }

  private flush(): void {
    writeAll(this.handle, this.waiting.subarray(0, this.filled));
    this.filled = 0;
  }

  finish(): void {
    this.flush();
    fsyncSync(this.handle);
    this.close();
    renameSync(this.part, this.path);
  }

  private close(): void {
    if (this.open) closeSync(this.handle);
    this.open = false;
  }

  abandon(): void {
    this.close();
    rmSync(this.part, { force: true });
  }
}

/** Writes a file that is in memory, whole or not at all. */
export function writeWhole(path: string, content: Buffer | string): void {
  const file = new WholeFile(path);
  try {
    file.write(content);
    file.finish();
  } catch (error) {
    file.abandon();
    throw error;
  }
}
