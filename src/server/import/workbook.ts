import { createReadStream } from "node:fs";
import ExcelJS from "exceljs";
import yauzl from "yauzl";
import { JobFailure } from "@/server/engine/failures";

/*
 * Workbooks (ISO/IEC 29500) come from strangers: before anything in one is read, the archive is unpacked once into
 * nothing, counting bytes, so that a small file cannot grow into one that fills the memory. Formulas are never run:
 * the value a cell was saved with is taken.
 */

const MOST_ENTRIES = 5_000;
const MOST_BYTES = 4 * 1024 ** 3;
/** How many times larger than packed the contents may be, beyond a size that does no harm. */
const MOST_RATIO = 200;
const HARMLESS_BYTES = 64 * 1024 ** 2;

const refuse = (why: string) => new JobFailure("fileRefused", why);

/** Reads every entry of an archive, handing over the small ones that are wanted. @throws JobFailure where it is not to be trusted */
async function inspectArchive(path: string, wanted: (name: string) => boolean): Promise<Map<string, string>> {
  const zip = await yauzl.openPromise(path, { lazyEntries: true, validateEntrySizes: true, strictFileNames: true }).catch(() => {
    throw refuse("it is not a complete workbook; it may be cut off");
  });
  const texts = new Map<string, string>();
  let entries = 0;
  let inflated = 0;
  try {
    for await (const entry of zip.eachEntry()) {
      if (++entries > MOST_ENTRIES) throw refuse("it has more parts than a workbook can have");
      if (entry.isEncrypted()) throw refuse("it is protected by a password; save it without one");
      const stream = await zip.openReadStreamPromise(entry);
      const chunks: Buffer[] = [];
      for await (const chunk of stream as AsyncIterable<Buffer>) {
        inflated += chunk.length;
        if (inflated > MOST_BYTES || (inflated > HARMLESS_BYTES && inflated > MOST_RATIO * zip.fileSize))
          throw refuse("it unpacks to far more than its size allows");
        if (wanted(entry.fileName)) chunks.push(chunk);
      }
      if (chunks.length > 0) texts.set(entry.fileName, Buffer.concat(chunks).toString("utf8"));
    }
  } catch (error) {
    if (error instanceof JobFailure) throw error;
    throw refuse("it is not a complete workbook; it may be cut off");
  } finally {
    zip.close();
  }
  return texts;
}

const ENTITIES: Record<string, string> = { amp: "&", lt: "<", gt: ">", quot: '"', apos: "'" };
const unescaped = (xml: string): string =>
  xml.replace(/&(#x?[\da-f]+|\w+);/gi, (whole, name: string) =>
    name.startsWith("#") ? String.fromCodePoint(Number(name[1]?.toLowerCase() === "x" ? `0x${name.slice(2)}` : name.slice(1))) : (ENTITIES[name] ?? whole),
  );

/** The names of a workbook's sheets, in their order. */
export async function sheetNames(path: string): Promise<string[]> {
  const texts = await inspectArchive(path, (name) => name === "xl/workbook.xml");
  const xml = texts.get("xl/workbook.xml");
  if (xml === undefined) throw refuse("it is an archive, not a workbook; use XLSX, CSV or JSON");
  const names = [...xml.matchAll(/<(?:\w+:)?sheet\b[^>]*?\bname="([^"]*)"/g)].map((m) => unescaped(m[1] ?? ""));
  if (names.length === 0) throw refuse("it has no sheets");
  return names;
}

/** A cell's value as plain text; dates as ISO 8601, numbers to the 15 digits a workbook keeps. */
function cellText(value: unknown): string {
  if (value === null || value === undefined) return "";
  if (value instanceof Date) return Number.isNaN(value.getTime()) ? "" : value.toISOString().slice(0, 19).replace("T", " ").replace(" 00:00:00", "");
  if (typeof value === "number") return plainDigits(value);
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (typeof value !== "object") return String(value);
  if ("result" in value) return cellText(value.result);
  if ("richText" in value) return (value.richText as { text: string }[]).map((part) => part.text).join("");
  if ("text" in value) return cellText(value.text);
  return "error" in value ? String(value.error) : "";
}

function plainDigits(value: number): string {
  const rounded = Number(value.toPrecision(15));
  const written = String(rounded);
  return /e/.test(written) && Math.abs(rounded) >= 1 && Math.abs(rounded) < 1e21 ? BigInt(Math.round(rounded)).toString() : written;
}

/** The rows of one sheet as text, in batches; rows above the first wanted one are passed over. */
export async function* sheetRows(path: string, sheet: string, from: number): AsyncGenerator<string[][]> {
  await inspectArchive(path, () => false);
  const reader = new ExcelJS.stream.xlsx.WorkbookReader(createReadStream(path), {
    worksheets: "emit",
    sharedStrings: "cache",
    styles: "cache",
    hyperlinks: "ignore",
    entries: "ignore",
  });
  let batch: string[][] = [];
  let found = false;
  for await (const worksheet of reader) {
    const { name } = worksheet as unknown as { name?: string };
    if (found || (name !== undefined && name !== sheet)) {
      for await (const _ of worksheet) if (found) break;
      continue;
    }
    found = true;
    for await (const row of worksheet) {
      if (row.number < from) continue;
      const values = (row.values as unknown[]).slice(1);
      const texts = Array.from(values, cellText);
      if (texts.every((t) => t === "")) continue;
      batch.push(texts);
      if (batch.length >= 500) {
        yield batch;
        batch = [];
      }
    }
  }
  if (!found) throw refuse(`it has no sheet “${sheet}”`);
  if (batch.length > 0) yield batch;
}
