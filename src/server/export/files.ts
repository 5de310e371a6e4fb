import { closeSync, fsyncSync, mkdirSync, openSync, renameSync, rmSync, writeSync } from "node:fs";
import { dirname } from "node:path";

/** A file written under another name and moved into place when whole: nobody ever sees half of it. */
export class WholeFile {
  private readonly part: string;
  private readonly handle: number;
  private open = true;
  bytes = 0;

  constructor(private readonly path: string) {
    mkdirSync(dirname(path), { recursive: true });
    this.part = `${path}.part`;
    this.handle = openSync(this.part, "w");
  }

  write(chunk: string | Buffer): void {
    const buffer = typeof chunk === "string" ? Buffer.from(chunk) : chunk;
    for (let at = 0; at < buffer.length; ) at += writeSync(this.handle, buffer, at);
    this.bytes += buffer.length;
  }

  finish(): void {
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
