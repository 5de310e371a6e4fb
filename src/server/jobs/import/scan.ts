import { headingsOf } from "@/core/import/again";
import { rowCleaner } from "@/core/import/clean";
import { columnNames, proposeType } from "@/core/import/propose";
import type { Clean, FileFormat } from "@/core/import/spec";
import { type ColumnTally, emptyTally, FileTally } from "@/core/import/tally";
import { readRecords } from "./records";

/** What a file holds: its columns' names, what their values can be, and its first rows. */
export type Scan = {
  names: string[];
  /** Headings that were empty or doubled and got other names. */
  renamed: number;
  rows: number;
  columns: { tally: ColumnTally; proposal: ReturnType<typeof proposeType> }[];
  first: string[][];
  /** Rows with fewer or more values than there are columns. */
  ragged: { rows: number; first: number | null };
};

const FIRST = 60;

export const hasHeading = (format: FileFormat): boolean => (format.kind === "delimited" ? format.heading : format.kind === "sheet" ? format.heading > 0 : true);

/** What the columns of a file are called. @throws JobFailure "fileRefused" where it cannot be read so */
export async function fileHeadings(path: string, format: FileFormat): Promise<string[]> {
  for await (const { records } of readRecords(path, format)) if (records[0]) return headingsOf(records[0], hasHeading(format));
  return [];
}

/**
 * Reads a whole file once, counting what each column's values can be.
 * @param report takes how far it is, 0 to 1
 * @param cleans how the values of each column are cleaned before they are counted; the first rows are told as they stand in the file
 */
export async function scanFile(path: string, format: FileFormat, report: (share: number) => void, cleans: (Clean | undefined)[] = []): Promise<Scan> {
  const clean = rowCleaner(cleans);
  const tally = new FileTally(format.kind === "delimited" && format.comma);
  const first: string[][] = [];
  let headings: string[] | null = null;
  let rows = 0;
  let width = 0;
  const ragged = { rows: 0, first: null as number | null };
  for await (const { records, share } of readRecords(path, format)) {
    for (const record of records) {
      if (headings === null) {
        width = record.length;
        headings = hasHeading(format) ? record : record.map(() => "");
        if (hasHeading(format)) continue;
      }
      rows++;
      if (record.length !== width) {
        ragged.rows++;
        ragged.first ??= rows;
      }
      if (first.length < FIRST) first.push(record);
      tally.add(clean(record), rows);
    }
    report(share);
  }
  const tallies = tally.tallies();
  const count = Math.max(width, tallies.length);
  const { names, changed } = columnNames(Array.from({ length: count }, (_, i) => headings?.[i] ?? ""));
  const columns = names.map((_, i) => {
    const column = tallies[i] ?? emptyTally();
    return { tally: column, proposal: proposeType(column) };
  });
  return { names, renamed: hasHeading(format) ? changed : 0, rows, columns, first, ragged };
}
