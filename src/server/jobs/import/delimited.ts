import Papa from "papaparse";
import type { FileFormat } from "@/core/import/spec";
import { JobFailure } from "@/server/source/failures";

export const MOST_RECORD_CHARACTERS = 4_000_000;
export const MOST_COLUMNS = 1_000;

const refuse = (why: string) => new JobFailure("fileRefused", why);

/** Stands for a quoted empty value alone in its line, which is a row; a line with nothing in it is none. */
const QUOTED_NOTHING = "\uE000";

/**
 * Reads delimited text (RFC 4180) as it comes, block after block. Lines may end in LF, CR LF or both; empty lines are passed over; a quote
 * within a value that does not begin with one is a sign like others.
 */
export class DelimitedText {
  private carried = "";
  private newline: "\n" | "\r" | null = null;
  private width = 0;
  private records = 0;

  constructor(private readonly format: Pick<Extract<FileFormat, { kind: "delimited" }>, "delimiter" | "quote" | "heading">) {}

  /** @returns the records that are whole with this. @throws JobFailure "fileRefused" */
  after(block: string): string[][] {
    return this.read(block, false);
  }

  /** The same with the last of the text. */
  end(block = ""): string[][] {
    return this.read(block, true);
  }

  private read(block: string, last: boolean): string[][] {
    const text = this.carried + block;
    // A CR that ends the block may have its LF in the next one.
    this.newline ??= newlineOf(last ? text : text.replace(/\r$/, ""), this.format.quote) ?? (last ? "\n" : null);
    if (this.newline === null) return this.carry(text);
    const known = this.width > 0;
    let read = known ? this.marked(text, last) : text;
    let { data, errors, meta } = this.parse(read, last);
    this.width ||= data.find((record) => !isEmptyLine(record))?.length ?? 0;
    if (!known && this.marked(text, last) !== text) {
      read = this.marked(text, last);
      ({ data, errors, meta } = this.parse(read, last));
    }
    this.carry(last ? "" : read.slice(meta.cursor));
    for (const { code, row = 0 } of errors) if (row < data.length) this.refuseQuotes(code, data, row);
    const records = data.filter((record) => !isEmptyLine(record));
    if (records.some((record) => record.length > MOST_COLUMNS)) throw refuse(`it has more than ${MOST_COLUMNS} columns; the delimiter may be wrong`);
    this.records += records.length;
    return this.width > 1 ? records : records.map((record) => record.map((v) => (v === QUOTED_NOTHING ? "" : v.replaceAll(QUOTED_NOTHING, this.format.quote))));
  }

  private parse(text: string, last: boolean): Papa.ParseResult<string[]> {
    const { delimiter, quote } = this.format;
    const parser = new Papa.Parser({ delimiter, newline: this.newline ?? "\n", ...(quote === "" ? { fastMode: true } : { quoteChar: quote }) });
    const read = parser.parse(text, 0, !last) as Papa.ParseResult<string[]>;
    if (this.newline === "\n") for (const record of read.data) dropReturn(record);
    return read;
  }

  /** In a file of one column, a quoted empty value is told from an empty line. */
  private marked(text: string, last: boolean): string {
    const { quote } = this.format;
    if (this.width !== 1 || quote === "") return text;
    return text.replace(new RegExp(`(?<=^|[\\r\\n])${quote}${quote}(?=[\\r\\n]${last ? "|$" : ""})`, "g"), QUOTED_NOTHING);
  }

  private carry(text: string): [] {
    if (text.length > MOST_RECORD_CHARACTERS) throw refuse("a row is longer than 4,000,000 characters; a quote may be missing, or the delimiter may be wrong");
    this.carried = text;
    return [];
  }

  /**
   * A quote within a quoted value that is not doubled ("1/2" pipe") is read as it stands where the value ends in its line and its row is
   * as wide as the first; else it may have swallowed what follows.
   */
  private refuseQuotes(code: string, data: string[][], at: number): void {
    const record = data[at] as string[];
    if (code === "InvalidQuotes" && record.length === this.width && !record.some((value) => value.includes(this.newline ?? "\n"))) return;
    const before = this.records + data.slice(0, at).filter((r) => !isEmptyLine(r)).length;
    const row = before + (this.format.heading ? 0 : 1);
    const place = row === 0 ? "the header row" : `row ${row}`;
    if (code === "MissingQuotes")
      throw refuse(`a quoted value starts in ${place} and is never closed; the file may be cut off, or the quote character may be wrong`);
    throw refuse(
      `a quoted value in ${place} contains a quote that is not doubled, so where it ends is unclear; double that quote in the file, or set quote to “none”`,
    );
  }
}

const isEmptyLine = (record: string[]): boolean => record.length === 1 && record[0] === "";

/** Where lines end in LF, a CR before it belongs to the end. */
function dropReturn(record: string[]): void {
  const at = record.length - 1;
  const value = record[at] as string;
  if (value.charCodeAt(value.length - 1) === 13) record[at] = value.slice(0, -1);
}

const quotedText = (quote: string): RegExp => new RegExp(`${quote}[^${quote}]*(?:${quote}|$)`, "g");

/** What lines end in, by the first one that does outside of quotes; null where none does. */
function newlineOf(text: string, quote: string): "\n" | "\r" | null {
  const bare = quote === "" ? text : text.replace(quotedText(quote), "");
  return bare.includes("\n") ? "\n" : bare.includes("\r") ? "\r" : null;
}
