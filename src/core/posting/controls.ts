import { plainDigits } from "../query/controls";
import { decimalText, parseDecimal } from "../types/decimal";
import type { Locale } from "../types/format";
import { exactOf, isExact, scaleOf } from "../types/valueType";
import type { ControlCompare, ControlFigure } from "./choices";
import { type StepTally, type Tally, tallies } from "./outcome";
import type { PostingControl } from "./spec";

/** A control total of a posting, by its place among them, held against what it comes to. `is` in plain digits; null where the step or its column is gone. */
export type PostingCheck = { at: number; control: PostingControl; is: string | null; agrees: boolean };

/** Holds what a posting comes to against its control totals. Exact figures are compared to the last digit. */
export function checkPosting(controls: PostingControl[], tally: Tally): PostingCheck[] {
  const steps = tallies(tally);
  return controls.flatMap((control, at): PostingCheck[] => {
    if (control.value.trim() === "") return [];
    const step = steps[control.step];
    const figure = step && figureOf(step, control);
    if (!figure) return [{ at, control, is: null, agrees: false }];
    return [{ at, control, is: figure.is, agrees: compares(figure, control) }];
  });
}

type Figure = { is: string; exact: boolean };

function figureOf(step: StepTally, { figure, column }: PostingControl): Figure | null {
  if (figure === "source") return { is: String(step.source), exact: true };
  if (figure !== "total") return { is: String(step.outcomes[figure] ?? 0), exact: true };
  const total = step.totals.find((t) => t.column === column);
  if (!total) return null;
  if (!isExact(total.type)) return { is: String(Number(total.after ?? 0) - Number(total.before ?? 0)), exact: false };
  const grown = (exactOf(total.after ?? "0") ?? 0n) - (exactOf(total.before ?? "0") ?? 0n);
  return { is: decimalText(grown, scaleOf(total.type)), exact: true };
}

/** More digits after the point than any figure or control total has. */
const SCALE = 20;

function compares({ is, exact }: Figure, { compare, value }: PostingControl): boolean {
  const wanted = parseDecimal(plainDigits(value), SCALE);
  if (wanted === null) return false;
  const difference = exact ? signOf((parseDecimal(is, SCALE) ?? 0n) - wanted) : nearSign(Number(is), Number(plainDigits(value)));
  return { is: difference === 0, atLeast: difference >= 0, atMost: difference <= 0 }[compare];
}

const signOf = (n: bigint): number => (n > 0n ? 1 : n < 0n ? -1 : 0);
/** Binary numbers that differ in no more than the last of their digits are the same. */
const nearSign = (a: number, b: number): number => (Math.abs(a - b) <= 1e-9 * Math.max(1, Math.abs(b)) ? 0 : Math.sign(a - b));

export const FIGURE_WORDS: Record<ControlFigure, string> = {
  source: "Rows in the source",
  add: "Rows added",
  change: "Rows changed",
  remove: "Rows removed",
  move: "Rows moved",
  refused: "Rows refused",
  unmatched: "Rows not found",
  differs: "Rows that exist with other values",
  total: "Change in total",
};

export const COMPARE_WORDS: Record<ControlCompare, string> = { is: "is", atLeast: "is at least", atMost: "is at most" };

const writeDigits = (digits: string, { locale }: Locale): string =>
  new Intl.NumberFormat(locale, { maximumFractionDigits: SCALE }).format(digits as Intl.StringNumericLiteral);

/** What was typed, where it is no number. */
const wantedWords = (typed: string, locale: Locale): string => {
  const digits = plainDigits(typed);
  return parseDecimal(digits, SCALE) === null ? `“${typed}”, which is not a number` : writeDigits(digits, locale);
};

/** What a control total says, and what the posting comes to. @param label of its column */
export function checkWords({ control, is }: PostingCheck, label: string, locale: Locale): string {
  const figure = control.figure === "total" ? `Change in total ${label}` : FIGURE_WORDS[control.figure];
  const was = is === null ? "which is not in this posting" : `but it is ${writeDigits(is, locale)}`;
  return `${figure} must be ${{ is: "", atLeast: "at least ", atMost: "at most " }[control.compare]}${wantedWords(control.value, locale)}, ${was}.`;
}
