import { type FileHandle, open } from "node:fs/promises";
import { configure, type Entry, Reader, ZipReader } from "@zip.js/zip.js";

// The work is done where it is asked for: this is a process of its own already.
configure({ useWebWorkers: false });

/** A file as the archive's reader takes it: a piece of it, wherever that lies. */
class FilePieces extends Reader<FileHandle> {
  constructor(private readonly handle: FileHandle) {
    super(handle);
  }

  override async init(): Promise<void> {
    await super.init?.();
    this.size = (await this.handle.stat()).size;
  }

  override async readUint8Array(index: number, length: number): Promise<Uint8Array> {
    const piece = new Uint8Array(length);
    const { bytesRead } = await this.handle.read(piece, 0, length, index);
    return piece.subarray(0, bytesRead);
  }
}

/** Work over the entries of a ZIP archive, in their order. @throws what the archive's reader says of one that is cut off, or none */
export async function withEntries<T>(path: string, work: (entries: AsyncIterable<Entry>) => Promise<T>): Promise<T> {
  const handle = await open(path, "r");
  try {
    return await work(new ZipReader(new FilePieces(handle)).getEntriesGenerator());
  } finally {
    await handle.close();
  }
}
