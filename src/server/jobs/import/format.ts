import { closeSync, openSync, readSync } from "node:fs";
import { extname } from "node:path";
import type { FileFormat } from "@/core/import/spec";
import { JobFailure } from "@/server/source/failures";

const HEAD_BYTES = 256 * 1024;
const DELIMITERS = [",", ";", "\t", "|"] as const;

/**
 * Finds out how a file is to be read, from its name and its first bytes. Everything found can be changed.
 * @throws JobFailure "fileRefused" with what it is where it is no table
 */
export async function findFormat(path: string, name: string): Promise<{ format: FileFormat; sheets: string[] }> {
  const head = readHead(path);
  if (head.length === 0) throw new JobFailure("fileRefused", "it is empty");
  if (head.subarray(0, 4).equals(Buffer.from("PK\u0003\u0004", "latin1"))) {
    // The reader of workbooks is large: it is loaded when the first workbook comes.
    const { sheetsOf, headingRow } = await import("./workbook");
    const { names, data } = await sheetsOf(path);
    return { format: { kind: "sheet", sheet: data, heading: await headingRow(path, data) }, sheets: names };
  }
  if (head.subarray(0, 8).toString("hex") === "d0cf11e0a1b11ae1") throw new JobFailure("fileRefused", "it is an old workbook format; save it as XLSX or CSV");
  if (head.subarray(0, 5).toString("latin1") === "%PDF-") throw new JobFailure("fileRefused", "it is a PDF; a table is needed");
  const encoding = encodingOf(head);
  const source = new TextDecoder(encoding).decode(head);
  if (/[\u0000-\u0008\u000e-\u001f]/.test(source.slice(0, 4000))) throw new JobFailure("fileRefused", "it is not a text file; use CSV, XLSX or JSON");
  const extension = extname(name).toLowerCase();
  if (extension === ".ndjson" || extension === ".jsonl") return { format: { kind: "ndjson" }, sheets: [] };
  if (extension === ".json" || /^\uFEFF?\s*\[\s*[{[\]]/.test(source)) return { format: { kind: /^\uFEFF?\s*\{/.test(source) ? "ndjson" : "json" }, sheets: [] };
  const quote = quoteOf(source);
  const delimiter = delimiterOf(source, quote);
  const lines = source.split(/\r?\n/);
  return {
    format: { kind: "delimited", delimiter, quote, encoding, heading: hasHeading(lines, delimiter), comma: delimiter !== "," && writesComma(source) },
    sheets: [],
  };
}

function readHead(path: string): Buffer {
  const handle = openSync(path, "r");
  try {
    const head = Buffer.alloc(HEAD_BYTES);
    return head.subarray(0, readSync(handle, head, 0, HEAD_BYTES, 0));
  } finally {
    closeSync(handle);
  }
}

type Encoding = Extract<FileFormat, { kind: "delimited" }>["encoding"];

/** By its byte order mark; else UTF-8 where the bytes are, else the commonest of the old ones (common practice). */
function encodingOf(head: Buffer): Encoding {
  if (head[0] === 0xff && head[1] === 0xfe) return "utf-16le";
  if (head[0] === 0xfe && head[1] === 0xff) return "utf-16be";
  const zeros = head.subarray(0, 2000).filter((byte, i) => byte === 0 && i % 2 === 1).length;
  if (zeros > Math.min(head.length, 2000) / 4) return "utf-16le";
  // The head can end within a character.
  for (let cut = 0; cut < 4; cut++)
    try {
      new TextDecoder("utf-8", { fatal: true }).decode(head.subarray(0, head.length - cut));
      return "utf-8";
    } catch {}
  return "windows-1252";
}

/** Quotes stand at the ends of fields. */
function quoteOf(source: string): '"' | "'" {
  const at = (quote: string) => source.match(new RegExp(`(^|[,;\\t|\\n])${quote}`, "g"))?.length ?? 0;
  return at("'") > 4 * at('"') + 4 ? "'" : '"';
}

/** The one that parts the first lines into the most columns, the same number in each. */
function delimiterOf(source: string, quote: string): string {
  const bare = source.replace(new RegExp(`${quote}[^${quote}]*${quote}`, "g"), "");
  const lines = bare
    .split(/\r?\n/)
    .filter((l) => l.trim() !== "")
    .slice(0, 60);
  // The last line can be cut.
  const whole = lines.length > 2 ? lines.slice(0, -1) : lines;
  const score = (delimiter: string) => {
    const counts = whole.map((l) => l.split(delimiter).length - 1);
    const usual = [...counts].sort((a, b) => a - b)[Math.floor(counts.length / 2)] ?? 0;
    return usual === 0 ? 0 : (counts.filter((c) => c === usual).length / counts.length) * (1 + Math.log(usual));
  };
  return [...DELIMITERS].sort((a, b) => score(b) - score(a))[0] ?? ",";
}

/** A first line without numbers or dates holds names where lines below have some, or where none of it is said again below. */
function hasHeading(lines: string[], delimiter: string): boolean {
  const fieldsOf = (line: string) => line.split(delimiter).map((f) => f.replace(/^["']|["']$/g, "").trim());
  const [first = [], ...rest] = lines
    .filter((l) => l.trim() !== "")
    .slice(0, 200)
    .map(fieldsOf);
  const isValue = (field: string) => /^[+-]?[\d.,]+$/.test(field) || /^\d{1,4}[-/.]\d{1,2}[-/.]\d{1,4}/.test(field);
  if (first.some(isValue)) return false;
  return rest.length === 0 || rest.some((line) => line.some(isValue)) || !rest.some((line) => line.some((field, i) => field !== "" && field === first[i]));
}

const writesComma = (source: string): boolean =>
  (source.match(/(^|[;\t|"])[+-]?\d+,\d{1,3}(?=$|[;\t|"\r\n])/gm)?.length ?? 0) > (source.match(/(^|[;\t|"])[+-]?\d+\.\d+(?=$|[;\t|"\r\n])/gm)?.length ?? 0);
