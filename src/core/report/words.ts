import { type CellWriter, cellWriter, counted, type Locale, writeCount, writeDate } from "../types/format";
import type { Cell, ValueType } from "../types/valueType";
import { wordsOf } from "./draft";
import type { Group } from "./groups";
import type { PlanLevel, PlanTextPart, ReportPlan } from "./plan";
import type { OwnField } from "./texts";

/*
 * Texts of a report filled with what they name.
 */

/** What a text is filled from. A figure that is not known yet is three dots. */
export type TextGiven = {
  row: Cell[] | null;
  /** Figures of the group by formulas; null while they are not known. */
  figure: ((formula: string) => { cell: Cell; write: (cell: Cell) => string }) | null;
  own: Partial<Record<OwnField, string>>;
};

const UNKNOWN = "…";

/** Makes what fills texts in. */
export function textFiller({ texts, rows }: ReportPlan, locale: Locale): (text: string, given: TextGiven) => string {
  const writers = rows.columns.map((c) => cellWriter(c.type, c.format, locale));
  const part = (p: PlanTextPart, { row, figure, own }: TextGiven): string => {
    switch (p.kind) {
      case "words":
        return p.text;
      case "own":
        return own[p.name] ?? "";
      case "parameter":
        return parameterWords(p, locale);
      case "cell": {
        const cell = row?.[p.at] ?? null;
        return wordsOf(writers[p.at]?.(cell) ?? { text: "", negative: false, misfit: false });
      }
      case "figure": {
        const found = figure?.(p.formula);
        return found ? found.write(found.cell) : UNKNOWN;
      }
      default:
        return p satisfies never;
    }
  };
  return (text, given) => (texts[text] ?? []).map((p) => part(p, given)).join("");
}

/** A parameter's value as it is read: a period by its first and last day. */
export function parameterWords({ text, type, period }: { text: string | null; type: ValueType; period: boolean }, locale: Locale): string {
  if (text === null) return "";
  if (period)
    return text
      .split("/")
      .map((day) => writeDate(day, locale))
      .join(" – ");
  return cellWriter(type, {}, locale)(text).text;
}

/** Whether every row of a line of a label comes out empty. */
export const isBlank = (text: string): boolean => text.trim() === "";

/** The value of a group in words: what is put together as the rest, and what has no value, have words of their own. */
export function levelWords({ column, key, rest }: PlanLevel, row: Cell[], write: (cell: Cell) => string): { words: string; empty: boolean } {
  if (rest !== null && Number(row[rest] ?? 0) === 1) return { words: "All others", empty: false };
  const cell = row[key] ?? null;
  if (cell === null) return { words: `No ${column.heading.toLowerCase()}`, empty: true };
  return { words: write(cell), empty: false };
}

/** What a footing says where nothing else was asked for. @param rows null while they are not known */
export const footingWords = (group: string | null, rows: number | null, locale: Locale): string =>
  `${group ?? "All"}, ${rows === null ? UNKNOWN : counted(rows, "row", locale)}`;

/** How many rows a group has: as they were read, before they have come; null where nothing was read. */
export function rowsOfGroup({ figures }: ReportPlan, { depth, read, rows, ended }: Group): number | null {
  if (ended) return rows;
  const cell = read?.[figures[depth]?.rows ?? -1] ?? null;
  return cell === null ? null : Number(cell);
}

/**
 * What a text at a group is filled from.
 * @param value the group's own value, in words
 * @param writers what writes the figures of each depth
 */
export function givenByGroup(report: ReportPlan, group: Group, value: string, writers: CellWriter[][], locale: Locale): TextGiven {
  const places = report.figures[group.depth]?.fields ?? {};
  const cells = group.read ?? (group.ended ? group.recounted() : null);
  const figure = (formula: string) => {
    const at = places[formula] ?? -1;
    const write = (cell: Cell) => wordsOf(writers[group.depth]?.[at]?.(cell) ?? { text: "", negative: false, misfit: false });
    return { cell: cells?.[at] ?? null, write };
  };
  const rows = rowsOfGroup(report, group);
  const own = { "": value, title: report.spec.title, rows: rows === null ? UNKNOWN : writeCount(rows, locale) };
  return { row: group.first, figure: cells && figure, own };
}

/** "page 3 of 12" as its parts, as far as they are known. */
export function pageFields(page: number, pages: number | null, inRun: number, ofRun: number | null, locale: Locale): Partial<Record<OwnField, string>> {
  const count = (n: number | null) => (n === null ? UNKNOWN : writeCount(n, locale));
  return { page: count(page), pages: count(pages), "page in group": count(inRun), "pages in group": count(ofRun) };
}
