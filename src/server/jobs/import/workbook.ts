import { createReadStream, statSync } from "node:fs";
import type { Entry } from "@zip.js/zip.js";
import ExcelJS from "exceljs";
import { withEntries } from "@/server/jobs/archive";
import { JobFailure } from "@/server/source/failures";

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
async function inspectArchive(
  path: string,
  wanted: (name: string) => boolean = () => false,
): Promise<{ texts: Map<string, string>; bytes: Map<string, number> }> {
  const texts = new Map<string, string>();
  const bytes = new Map<string, number>();
  let entries = 0;
  let inflated = 0;
  const { size } = statSync(path);
  const inspect = async (entry: Entry): Promise<void> => {
    if (++entries > MOST_ENTRIES) throw refuse("it has more parts than a workbook can have");
    if (entry.directory) return;
    if (entry.encrypted) throw refuse("it is protected by a password; save it without one");
    const chunks: Uint8Array[] = [];
    const before = inflated;
    const unpacked = new WritableStream<Uint8Array>({
      write(chunk) {
        inflated += chunk.length;
        if (inflated > MOST_BYTES || (inflated > HARMLESS_BYTES && inflated > MOST_RATIO * size)) throw refuse("it unpacks to far more than its size allows");
        if (wanted(entry.filename)) chunks.push(chunk);
      },
    });
    await entry.getData(unpacked, { checkSignature: true });
    bytes.set(entry.filename, inflated - before);
    if (chunks.length > 0) texts.set(entry.filename, Buffer.concat(chunks).toString("utf8"));
  };
  try {
    await withEntries(path, async (found) => {
      for await (const entry of found) await inspect(entry);
    });
  } catch (error) {
    if (error instanceof JobFailure) throw error;
    throw refuse("it is not a complete workbook; it may be cut off");
  }
  return { texts, bytes };
}

const ENTITIES: Record<string, string> = { amp: "&", lt: "<", gt: ">", quot: '"', apos: "'" };
const unescaped = (xml: string): string =>
  xml.replace(/&(#x?[\da-f]+|\w+);/gi, (whole, name: string) =>
    name.startsWith("#") ? String.fromCodePoint(Number(name[1]?.toLowerCase() === "x" ? `0x${name.slice(2)}` : name.slice(1))) : (ENTITIES[name] ?? whole),
  );

const WORKBOOK = "xl/workbook.xml";
const TEXTS = "xl/sharedStrings.xml";
const RELATIONS = "xl/_rels/workbook.xml.rels";

/** The first sheet is taken where it has at least this part of the contents of the largest one; else it is a cover. */
const COVER = 0.3;

/** The names of a workbook's sheets, in their order, and the one that holds the data: the first, or the largest where the first is a cover beside it. */
export async function sheetsOf(path: string): Promise<{ names: string[]; data: string }> {
  const { texts, bytes } = await inspectArchive(path, (name) => name === WORKBOOK || name === RELATIONS);
  const xml = texts.get(WORKBOOK);
  if (xml === undefined) throw refuse("it is an archive, not a workbook; use XLSX, CSV or JSON");
  const attribute = (tag: string, name: RegExp): string => unescaped(name.exec(tag)?.[1] ?? "");
  const sheets = [...xml.matchAll(/<(?:\w+:)?sheet\b[^>]*>/g)].map(([tag]) => ({
    name: attribute(tag, /\bname="([^"]*)"/),
    id: attribute(tag, /\w+:id="([^"]*)"/),
  }));
  const [first] = sheets;
  if (!first) throw refuse("it has no sheets");
  const files = new Map(
    [...(texts.get(RELATIONS) ?? "").matchAll(/<Relationship\b[^>]*>/g)].map(([tag]) => [
      attribute(tag, /\bId="([^"]*)"/),
      attribute(tag, /\bTarget="([^"]*)"/),
    ]),
  );
  const sizeOf = (id: string): number => bytes.get(`xl/${(files.get(id) ?? "").replace(/^\/?(xl\/)?/, "")}`) ?? 0;
  const largest = sheets.reduce((most, s) => (sizeOf(s.id) > sizeOf(most.id) ? s : most), first);
  return { names: sheets.map((s) => s.name), data: sizeOf(first.id) >= COVER * sizeOf(largest.id) ? first.name : largest.name };
}

/** Rows in which a heading is looked for. */
const LOOKED = 30;

/** The row a sheet's headings stand in, from 1: the first that is nearly as wide as the widest, below titles and notes. */
export async function headingRow(path: string, sheet: string): Promise<number> {
  for await (const { numbers, records } of numberedRows(path, sheet, 1, LOOKED)) {
    const filled = records.map((r) => r.filter((t) => t !== "").length);
    const at = filled.findIndex((n) => n >= 0.7 * Math.max(...filled));
    return numbers[at] ?? 1;
  }
  return 1;
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
  for await (const { records } of numberedRows(path, sheet, from, 500)) yield records;
}

type Batch = { numbers: number[]; records: string[][] };

/** How often a workbook is read that its reader did not get whole. */
const MOST_TRIES = 3;

/**
 * The same with the rows' numbers in the sheet. On a busy machine the reader has been seen to lose a part of the archive on
 * its way; it is read again then, as long as no row of it was given out.
 */
async function* numberedRows(path: string, sheet: string, from: number, most: number): AsyncGenerator<Batch> {
  const { bytes } = await inspectArchive(path);
  let given = false;
  for (let tries = 1; ; tries++)
    try {
      for await (const batch of rowsOnce(path, bytes.has(TEXTS), sheet, from, most)) {
        given = true;
        yield batch;
      }
      return;
    } catch (error) {
      if (given || tries === MOST_TRIES || error instanceof JobFailure) throw error;
    }
}

/** @param texts whether the workbook keeps its texts in a part of their own */
async function* rowsOnce(path: string, texts: boolean, sheet: string, from: number, most: number): AsyncGenerator<Batch> {
  const reader = new ExcelJS.stream.xlsx.WorkbookReader(createReadStream(path), {
    worksheets: "emit",
    sharedStrings: "cache",
    styles: "cache",
    hyperlinks: "ignore",
    entries: "ignore",
  });
  let batch: Batch = { numbers: [], records: [] };
  let found = false;
  for await (const worksheet of reader) {
    const { name } = worksheet as unknown as { name?: string };
    if (found || (name !== undefined && name !== sheet)) {
      for await (const _ of worksheet) if (found) break;
      continue;
    }
    found = true;
    if (texts && !(reader as unknown as { sharedStrings?: unknown }).sharedStrings) throw new Error("The texts of the workbook were not read.");
    for await (const row of worksheet) {
      if (row.number < from) continue;
      const values = (row.values as unknown[]).slice(1);
      const texts = Array.from(values, cellText);
      if (texts.every((t) => t === "")) continue;
      batch.numbers.push(row.number);
      batch.records.push(texts);
      if (batch.records.length >= most) {
        yield batch;
        batch = { numbers: [], records: [] };
      }
    }
  }
  if (!found) throw refuse(`it has no sheet “${sheet}”`);
  if (batch.records.length > 0) yield batch;
}
