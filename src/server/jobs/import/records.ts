import { createReadStream, readFileSync, statSync } from "node:fs";
import { createInterface } from "node:readline";
import type { FileFormat } from "@/core/import/spec";
import { JobFailure } from "@/server/source/failures";
import { DelimitedText, MOST_COLUMNS, MOST_RECORD_CHARACTERS } from "./delimited";

/** A batch of a file's records, and how much of the file has been read (0 to 1). */
export type Batch = { records: string[][]; share: number };

const BATCH = 500;
const BYTES_AT_ONCE = 1 << 17;
/** JSON in one list is read whole; larger files come a line each. */
const MOST_JSON_BYTES = 128 * 1024 ** 2;

const refuse = (why: string) => new JobFailure("fileRefused", why);

/** The records of a file as text, the line of headings (where there is one) first. @throws JobFailure "fileRefused" */
export async function* readRecords(path: string, format: FileFormat): AsyncGenerator<Batch> {
  switch (format.kind) {
    case "delimited":
      yield* delimitedRecords(path, format);
      return;
    case "sheet": {
      const { size } = statSync(path);
      let rows = 0;
      const { sheetRows } = await import("./workbook");
      for await (const records of sheetRows(path, format.sheet, Math.max(1, format.heading))) {
        rows += records.length;
        // Rows of a packed file say nothing sure of its size: 40 bytes each is a guess for the progress alone.
        yield { records, share: Math.min(0.95, (rows * 40) / Math.max(size, 1)) };
      }
      return;
    }
    case "json":
      yield* objectRecords(wholeJson(path));
      return;
    case "ndjson":
      yield* objectRecords(jsonLines(path));
      return;
    default:
      format satisfies never;
  }
}

async function* delimitedRecords(path: string, format: Extract<FileFormat, { kind: "delimited" }>): AsyncGenerator<Batch> {
  const { size } = statSync(path);
  const decoder = new TextDecoder(format.encoding);
  const records = new DelimitedText(format);
  const bytes = createReadStream(path, { highWaterMark: BYTES_AT_ONCE });
  let read = 0;
  for await (const chunk of bytes as AsyncIterable<Buffer>) {
    read += chunk.length;
    yield { records: records.after(decoder.decode(chunk, { stream: true })), share: read / Math.max(size, 1) };
  }
  yield { records: records.end(decoder.decode()), share: 1 };
}

/** The rows of a JSON file: its list, or the first list in its object. */
function wholeJson(path: string): unknown[] {
  if (statSync(path).size > MOST_JSON_BYTES) throw refuse("the JSON list is too large; save it as JSON lines, one row per line");
  const whole = parsed(readFileSync(path, "utf8"), "it is not valid JSON; it may be cut off");
  const list = Array.isArray(whole) ? whole : Object.values((whole as object | null) ?? {}).find(Array.isArray);
  if (!list) throw refuse("it has no list of rows");
  return list;
}

function parsed(source: string, why: string): unknown {
  try {
    return JSON.parse(source.replace(/^\uFEFF/, ""));
  } catch {
    throw refuse(why);
  }
}

async function* jsonLines(path: string): AsyncGenerator<unknown> {
  let n = 0;
  for await (const line of createInterface({ input: createReadStream(path), crlfDelay: Number.POSITIVE_INFINITY })) {
    n++;
    if (line.trim() === "") continue;
    if (line.length > MOST_RECORD_CHARACTERS) throw refuse(`line ${n} is longer than 4,000,000 characters`);
    yield parsed(line, `line ${n} is not valid JSON; the file may be cut off there`);
  }
}

/** Objects as records: the names of the first objects head them; lists are taken as they are. */
async function* objectRecords(source: AsyncIterable<unknown> | Iterable<unknown>): AsyncGenerator<Batch> {
  const names: string[] = [];
  let waiting: unknown[] = [];
  let begun = false;
  let records: string[][] = [];
  const record = (row: unknown): string[] => {
    if (Array.isArray(row)) return row.map(jsonText);
    if (typeof row !== "object" || row === null) throw refuse("its list has values that are not rows; use objects or lists");
    const strange = Object.keys(row).find((k) => !names.includes(k));
    if (strange !== undefined) throw refuse(`a later row has a value “${strange.slice(0, 40)}” that none of the first ${FIRST_OBJECTS} has`);
    return names.map((name) => jsonText((row as Record<string, unknown>)[name]));
  };
  const begin = () => {
    begun = true;
    const lists = Array.isArray(waiting[0]);
    for (const row of waiting)
      if (!lists && typeof row === "object" && row !== null) for (const key of Object.keys(row)) if (!names.includes(key)) names.push(key);
    if (names.length > MOST_COLUMNS) throw refuse(`it has more than ${MOST_COLUMNS} columns`);
    if (!lists) records.push(names);
    for (const row of waiting) records.push(record(row));
    waiting = [];
  };
  for await (const row of source) {
    if (!begun) {
      waiting.push(row);
      if (waiting.length === FIRST_OBJECTS) begin();
    } else records.push(record(row));
    if (records.length < BATCH) continue;
    yield { records, share: 0.5 };
    records = [];
  }
  if (!begun) begin();
  if (records.length > 0) yield { records, share: 1 };
}

/** How many objects are looked at for their names before rows are taken. */
const FIRST_OBJECTS = 1_000;

/** A value as the text of a cell; lists and objects as they are written. */
function jsonText(value: unknown): string {
  if (value === null || value === undefined) return "";
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (typeof value !== "object") return String(value);
  try {
    return JSON.stringify(value);
  } catch {
    throw refuse("a value is nested too deeply");
  }
}
