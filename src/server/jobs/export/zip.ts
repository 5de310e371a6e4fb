import { Zip, ZipPassThrough } from "fflate";
import { WholeFile } from "./files";

/** Writes files into a ZIP archive, one after the other; whole or not at all. PDFs are compressed already, so they are stored as they are. */
export async function zipFile(
  path: string,
  fill: (add: (name: string, content: Buffer | AsyncIterable<Buffer>) => Promise<void>) => Promise<void>,
): Promise<number> {
  const file = new WholeFile(path);
  try {
    let failure: Error | null = null;
    const zip = new Zip((error, chunk) => {
      if (error) failure = error;
      else file.write(Buffer.from(chunk));
    });
    await fill(async (name, content) => {
      const entry = new ZipPassThrough(name);
      zip.add(entry);
      for await (const chunk of Buffer.isBuffer(content) ? [content] : content) entry.push(chunk);
      entry.push(new Uint8Array(0), true);
      if (failure) throw failure;
    });
    zip.end();
    file.finish();
    return file.bytes;
  } catch (error) {
    file.abandon();
    throw error;
  }
}
