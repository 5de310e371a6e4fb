import { configure, ZipWriter } from "@zip.js/zip.js";
import { WholeFile } from "./files";

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
