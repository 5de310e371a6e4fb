import { type FileHandle, open } from "node:fs/promises";
import { configure, type Entry, Reader, ZipReader, ZipWriter } from "@zip.js/zip.js";
import { WholeFile } from "./export/files";

/* ZIP archives: written as their files are made, read entry by entry. */

// The work is done where it is asked for: this is a process of its own already.
configure({ useWebWorkers: false });

/** Writes files into a ZIP archive, one after the other; whole or not at all. PDFs are compressed already, so they are stored as they are. */
export async function zipFile(
  path: string,
  fill: (add: (name: string, content: Buffer | AsyncIterable<Buffer>) => Promise<void>) => Promise<void>,
): Promise<number> {
  const file = new WholeFile(path);
  try {
    const zip = new ZipWriter(new WritableStream<Uint8Array>({ write: (chunk) => file.write(Buffer.from(chunk)) }), { level: 0 });
    await fill(async (name, content) => {
      await zip.add(name, streamed(Buffer.isBuffer(content) ? [content] : content));
    });
    await zip.close();
    file.finish();
    return file.bytes;
  } catch (error) {
    file.abandon();
    throw error;
  }
}

/** Pieces as a stream that takes the next one when it is asked for. */
function streamed(content: Iterable<Buffer> | AsyncIterable<Buffer>): ReadableStream<Uint8Array> {
  async function* pieces() {
    yield* content;
  }
  const source = pieces();
  return new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { done, value } = await source.next();
      if (done) controller.close();
      else controller.enqueue(value);
    },
    cancel: () => void source.return(),
  });
}

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
