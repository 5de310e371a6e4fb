import type { Plan, PlanParameter } from "../query/plan";
import { isIsoDate } from "../types/date";
import { type Locale, writeDate } from "../types/format";
import { stretchWords } from "../types/stretch";
import { type Cell, type ValueType, whole } from "../types/valueType";
import { accountLines } from "./accountLines";
import type { Proof } from "./proof";
import { heldWords, notRecountedWords, repeatingTotals, VERDICT_WORDS, verdictOf } from "./verdict";

/** What a file of rows is of: said beside the rows, in a sheet or a file of its own. */
export type AboutFile = { title: string; brief: string; printedAt: string; locale: Locale };

/** A cell of the account: words, or a value with its type. */
export type AboutCell = string | { value: Cell; type: ValueType };

function worded({ text, period }: PlanParameter, locale: Locale): string {
  if (text === null) return "any";
  if (period) return stretchWords(text, locale);
  return isIsoDate(text) ? writeDate(text, locale) : text;
}

/**
 * The lines that say what a file of rows is of: title, when, brief, the parameters' values, the account of the rows with
 * the figure that is followed, each total by the sheet and by the recount, and the verdict.
 */
export function aboutLines({ title, brief, printedAt, locale }: AboutFile, plan: Plan, proof: Proof): AboutCell[][] {
  const count = (rows: number): AboutCell => ({ value: rows, type: whole });
  const { figure } = proof;
  const amounts = accountLines(plan, proof, locale).map(({ label, amount }): AboutCell[] => [
    label,
    count(amount.rows),
    ...(figure ? [{ value: amount.figure, type: figure.type }] : []),
  ]);
  const totals = proof.totals.map(({ heading, type, sheet, accounted }): AboutCell[] => [heading, { value: sheet, type }, { value: accounted, type }]);
  const verdict = verdictOf(proof);
  const repeating = repeatingTotals(proof);
  return [
    [title],
    [printedAt],
    [brief],
    ...(plan.parameters.length > 0 ? [[], ["Parameter", "Value"], ...plan.parameters.map((p) => [p.name, worded(p, locale)])] : []),
    [],
    ["Account of the rows", "rows", ...(figure ? [figure.heading] : [])],
    ...amounts,
    ...(totals.length > 0 ? [[], ["Total", "by the query", "by the recount"], ...totals] : []),
    [],
    [VERDICT_WORDS[verdict]],
    ...(verdict === "differs"
      ? [["The query and the recount differ. Do not use these figures before the difference is explained."]]
      : [[`${heldWords(proof, locale)}${notRecountedWords(proof.lines, locale)}`]]),
    ...(repeating.length > 0 ? [[`Totals that add the same values more than once: ${repeating.join(", ")}.`]] : []),
  ];
}
