"use client";

import type { Action } from "@/core/posting/choices";
import { rowsWritten, type StepTally } from "@/core/posting/outcome";
import { findColumn, type Table } from "@/core/schema/schema";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { Notice } from "@/ui/Notice";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** Counts that add up to the source's rows, and the table before and after. */
export function PostingProof({ tally, table, action }: { tally: StepTally | null; table: Table; action: Action }) {
  const locale = useLocale();
  if (!tally) return <p className="text-soft">{WORDS.theProofAppearsWhenThe}</p>;
  const { outcomes } = tally;
  const write = (n: number) => writeCount(n, locale);
  const line = (label: string, figure: string | number, style = "pl-3 text-soft", tone = "") => (
    <tr key={label} className={style.includes("border") ? style : ""}>
      <th scope="row" className={`py-1 text-left font-normal ${style.includes("border") ? "" : style}`}>
        {label}
      </th>
      <td className={`py-1 text-right ${tone}`}>{typeof figure === "number" ? write(figure) : figure}</td>
    </tr>
  );
  const known = tally.since.reduce((sum, s) => sum + s.rows, 0);
  const done = { add: WORDS.toAdd, change: COMMON.canEdit, remove: WORDS.toRemove, move: WORDS.toMove }[action];
  return (
    <div className="grid gap-4">
      <table className="w-full" data-testid="posting-proof">
        <tbody>
          {line(WORDS.rowsInTheSource, tally.source, "")}
          {tally.since.map((s) => line(WORDS.existsAlreadyPosting(s.posting), s.rows))}
          {outcomes.there - known > 0 && line(WORDS.existsAlready, outcomes.there - known)}
          {outcomes.differs > 0 && line(WORDS.existsDifferent, outcomes.differs, "pl-3", "text-ochre")}
          {outcomes.unchanged > 0 && line(WORDS.unchanged, outcomes.unchanged)}
          {outcomes.repeated > 0 && line(WORDS.repeatedInTheSource, outcomes.repeated)}
          {outcomes.unmatched > 0 && line(WORDS.notFound, outcomes.unmatched)}
          {outcomes.refused > 0 && line("refused", outcomes.refused, "pl-3 text-soft", "font-semibold text-vermilion")}
          {action === "add" && outcomes.change > 0 && line(COMMON.canEdit, outcomes.change)}
          {line(done, outcomes[action], "border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]")}
        </tbody>
      </table>
      <table className="w-full">
        <tbody>
          {line(WORDS.now(table.label), tally.rowsBefore, "border-b border-ink")}
          {line(WORDS.afterPosting, tally.rowsAfter, "")}
          {tally.origin && line(WORDS.tableBeforeNamed(tally.origin.label), tally.origin.before, "text-soft")}
          {tally.origin && line(WORDS.tableAfterNamed(tally.origin.label), tally.origin.after, "text-soft")}
          {tally.totals.flatMap((t) => {
            const column = findColumn(table, t.column);
            const cell = column && cellWriter(column.type, column.format ?? {}, locale);
            if (!cell) return [];
            return [line(WORDS.totalNow(t.label), cell(t.before).text || "–", "text-soft"), line(WORDS.after(t.label), cell(t.after).text || "–", "text-soft")];
          })}
        </tbody>
      </table>
      {tally.fields.length > 0 && (
        <table className="w-full" aria-label={WORDS.changedBy}>
          <caption className="caption pb-1 text-left">{WORDS.changedBy}</caption>
          <tbody>{tally.fields.map(({ column, rows }) => line(findColumn(table, column)?.label ?? column, rows, ""))}</tbody>
        </table>
      )}
      {tally.origin && tally.origin.lost.length > 0 && <Notice tone="look">{WORDS.lostColumns(tally.origin.lost.join(", "))}</Notice>}
      {rowsWritten(tally) > 0 && (
        <Notice tone="look">
          <b>{WORDS.itCanBeReversed}</b> {WORDS.aPostingStoresWhatIt}
        </Notice>
      )}
      {outcomes.differs > 0 && <Notice tone="look">{WORDS.differing(counted(outcomes.differs, "row", locale))}</Notice>}
      {rowsWritten(tally) === 0 && outcomes.differs === 0 && (
        <Notice tone="agrees">{WORDS.nothingToChange(counted(tally.source, "row", locale), outcomes.refused > 0 ? WORDS.orRefused : "")}</Notice>
      )}
    </div>
  );
}
