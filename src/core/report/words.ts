import { cellWriter, counted, type Locale, writeCount, writeDate } from "../types/format";
import type { Cell, ValueType } from "../types/valueType";
import { wordsOf } from "./draft";
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

/** What a footing says where nothing else was asked for. */
export const footingWords = (group: string | null, rows: number, locale: Locale): string => `${group ?? "All"}, ${counted(rows, "row", locale)}`;

/** "page 3 of 12" as its parts, as far as they are known. */
export function pageFields(page: number, pages: number | null, inRun: number, ofRun: number | null, locale: Locale): Partial<Record<OwnField, string>> {
  const count = (n: number | null) => (n === null ? UNKNOWN : writeCount(n, locale));
  return { page: count(page), pages: count(pages), "page in group": count(inRun), "pages in group": count(ofRun) };
}
