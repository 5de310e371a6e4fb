import { cellWriter } from "../types/format";
import { type Amount, addAmounts, negated } from "./amount";
import { toneOf, wordsOf } from "./draft";
import type { Flow, Piece } from "./fillPages";
import type { FlowSetting, OpenGroup } from "./flowSetting";
import { placeOfFormula, type ReportPlan } from "./plan";
import type { SummaryLine } from "./spec";
import { LINE } from "./table";

/*
 * What closes a group: lines of figures one under the other, such as the balance before, what was lodged, what was paid, and
 * what they come to. Sums are exact where their lines are.
 */

/** What a summary's lines are read from. */
export type SummaryGiven = {
  /** What a formula over the group comes to. */
  formula: (text: string) => Amount | null;
  /** The total of a column of a table of related rows in the group; null where it has no rows. */
  related: (table: string, column: string) => Amount | null;
};

/** A line with its amount, as it counts: what is taken away is negative. */
export type SummedLine = { line: SummaryLine; amount: Amount | null };

/** Works the lines of a summary out. A sum is over the lines above it that are no sums. */
export function sumLines(lines: SummaryLine[], given: SummaryGiven): SummedLine[] {
  const above: Amount[] = [];
  return lines.map((line): SummedLine => {
    if (line.of.kind === "sum") return { line, amount: addAmounts(above) };
    const found = line.of.kind === "formula" ? given.formula(line.of.text) : given.related(line.of.table, line.of.column);
    const amount = found && line.minus ? negated(found) : found;
    if (amount) above.push(amount);
    return { line, amount };
  });
}

/** The amount of a formula over a group. */
function formulaAmount(report: ReportPlan, { group }: OpenGroup, text: string): Amount | null {
  const place = placeOfFormula(report, group.depth, text);
  if (!place) return null;
  const { type, format } = place.column;
  const cells = place.of === "row" ? group.first : (group.read ?? group.recounted());
  return { cell: cells[place.at] ?? null, type, format };
}

/** The places in the rows of fields that stand in the summary of a depth's groups. */
export function summaryFields(report: ReportPlan, depth: number): number[] {
  const lines = report.spec.summaries?.find((s) => s.under === report.levels[depth - 1]?.spec.id)?.lines ?? [];
  return lines.flatMap(({ of }) => {
    const place = of.kind === "formula" ? placeOfFormula(report, depth, of.text) : null;
    return place?.of === "row" ? [place.at] : [];
  });
}

/** From the left edge to where a summary begins: it stands at the right, under the figures. */
const ASIDE = 0.42;

/** The summary of a group as pieces that stand together. */
export function* summaryFlow(setting: FlowSetting, opened: OpenGroup): Generator<Flow> {
  const { report, left, right, locale } = setting;
  const summary = report.spec.summaries?.find((s) => s.under === opened.level?.spec.id);
  if (!summary || summary.lines.length === 0) return;
  const summed = sumLines(summary.lines, {
    formula: (text) => formulaAmount(report, opened, text),
    related: (table, column) => opened.relatedTotals.get(`${table}\n${column}`) ?? null,
  });
  const from = left + (right - left) * ASIDE;
  const table = setting.nextTable();
  yield { kind: "piece", height: LINE / 2, joined: true, draw: () => {} };
  for (const [n, { line, amount }] of summed.entries()) {
    const isSum = line.of.kind === "sum";
    const font = isSum ? "sansBold" : "sans";
    const closing = isSum && n === summed.length - 1;
    yield {
      kind: "piece",
      height: LINE + (closing ? 10 : 2),
      joined: n < summed.length - 1,
      draw: (draft, y) => {
        const tag = setting.nextRow(table);
        const written = cellWriter(amount?.type ?? { kind: "whole" }, amount?.format ?? {}, locale)(amount ? (amount.cell ?? "0") : null);
        if (isSum) draft.rule(from, y, right - from, 0.5);
        draft.put({ x: from, width: (right - from) * 0.6, right: false }, y + LINE - 3, setting.text(line.text, opened), font, "ink", tag);
        draft.put({ x: from + (right - from) * 0.6, width: (right - from) * 0.4, right: true }, y + LINE - 3, wordsOf(written), font, toneOf(written), tag);
        if (closing) for (const below of [1, 3]) draft.rule(from, y + LINE + below, right - from, 0.5);
        draft.area(from, y, right - from, LINE, { kind: "summary", level: summary.under });
      },
    } satisfies Piece;
  }
}
