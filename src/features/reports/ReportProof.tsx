"use client";

import type { ReactNode } from "react";
import type { ReportOutline } from "@/core/report/layOut";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import type { Cell } from "@/core/types/valueType";
import type { ReportCheck } from "@/server/services/reports/service";
import { filled } from "@/ui/filled";
import { Notice } from "@/ui/Notice";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import type { ReportColumn } from "./reportColumn";
import { WORDS } from "./words";

type Props = { proof: ReportCheck; outline: ReportOutline; printed: ReportColumn[]; brief?: boolean };

/** Grand footing, the groups' footings added together, and the query's own footing: three ways to one figure; and what the pages hold. */
export function ReportProof({ proof, outline, printed, brief = false }: Props) {
  const locale = useLocale();
  const write = (id: string, cell: Cell) => {
    const column = printed.find((c) => c.id === id);
    return column ? cellWriter(column.type, column.format, locale)(cell).text || "–" : "";
  };
  const groups = outline.entries.filter((e) => e.level === 0).length;
  const last = proof.columns.at(-1);
  const apart = proof.columns.filter((c) => c.overlaps);
  const verdict = proof.agrees ? (
    <Notice tone={apart.length > 0 ? "look" : "agrees"}>
      {filled(
        WORDS.footsNote,
        <b>{apart.length > 0 ? WORDS.footsWithOverlaps : WORDS.foots}</b>,
        apart.length === 0 && groups > 0 ? WORDS.groupsAddUp(counted(groups, WORDS.groupFooting, locale)) : WORDS.theRowsAddUpTo,
        last && `, ${write(last.column, last.printed)}`,
      )}
    </Notice>
  ) : (
    <Notice tone="wrong">
      <b>{WORDS.doesNotFoot}</b> {WORDS.thePrintedFiguresAndThe}
    </Notice>
  );
  if (brief) return verdict;
  const { pages } = proof;
  const compared = pages.levels.reduce((sum, l) => sum + l.compared, 0);
  const differ = pages.levels.reduce((sum, l) => sum + l.differ, 0);
  return (
    <div className="grid gap-4">
      {verdict}
      {apart.map((c) => (
        <Notice key={c.column} tone="look">
          {filled(
            WORDS.overlapping,
            <b>{WORDS.groupsMore(printed.find((x) => x.id === c.column)?.heading ?? "")}</b>,
            c.overlaps,
            write(c.column, c.query),
            write(c.column, c.groups),
          )}
        </Notice>
      ))}
      {outline.cut > 0 && <Notice tone="look">{WORDS.piecesCut(counted(outline.cut, WORDS.row, locale))}</Notice>}
      <Lines
        caption={COMMON.rowsHeading}
        lines={[
          [WORDS.printed, writeCount(proof.rows.printed, locale)],
          [WORDS.inTheQuery, writeCount(proof.rows.query, locale)],
        ]}
      />
      {proof.columns.map((c) => (
        <Lines
          key={c.column}
          caption={printed.find((x) => x.id === c.column)?.heading ?? ""}
          lines={[
            [WORDS.sumOfGroupFootings, write(c.column, c.groups)],
            [WORDS.queryFooting, write(c.column, c.query)],
          ]}
          total={[
            <>
              {WORDS.grandTotal2} {c.agrees ? <span className="text-bottle">✓</span> : <span className="text-vermilion">{WORDS.differs}</span>}
            </>,
            write(c.column, c.printed),
          ]}
        />
      ))}
      <Lines
        caption={WORDS.onThePages}
        lines={[
          [WORDS.figuresRecounted, ofThem(compared, differ)],
          ...(pages.sums.compared > 0 ? [[WORDS.levelsAddUp, ofThem(pages.sums.compared, pages.sums.differ)] as [string, string]] : []),
          ...(pages.carried.compared > 0 ? [[WORDS.carriedAgree, ofThem(pages.carried.compared, pages.carried.differ)] as [string, string]] : []),
          ...(pages.inserts.compared > 0 ? [[WORDS.insertsAgree, ofThem(pages.inserts.compared, pages.inserts.differ)] as [string, string]] : []),
          ...(pages.summaries.compared > 0 ? [[WORDS.summariesAgree, ofThem(pages.summaries.compared, pages.summaries.differ)] as [string, string]] : []),
          ...(pages.held.compared > 0 ? [[WORDS.heldAgree, ofThem(pages.held.compared, pages.held.differ)] as [string, string]] : []),
          ...(pages.placed.compared > 0 ? [[WORDS.placedAgree, ofThem(pages.placed.compared, pages.placed.differ)] as [string, string]] : []),
        ]}
      />
      {proof.related.map((r) => (
        <Lines
          key={r.id}
          caption={r.title || WORDS.untitledTable}
          lines={[
            [WORDS.tablesPrinted, writeCount(r.tables, locale)],
            [WORDS.printed, writeCount(r.printed, locale)],
            r.printed > r.all ? [WORDS.printedAgain, writeCount(r.printed - r.all, locale)] : [WORDS.inNoTable, writeCount(r.all - r.printed, locale)],
          ]}
        />
      ))}
    </div>
  );

  function ofThem(all: number, wrong: number): string {
    return wrong === 0 ? WORDS.allAgree(writeCount(all, locale)) : WORDS.someDiffer(writeCount(wrong, locale), writeCount(all, locale));
  }
}

/** Figures under one another, the last of them between rules where it closes them. */
function Lines({ caption, lines, total }: { caption: string; lines: [string, string][]; total?: [ReactNode, string] }) {
  return (
    <table className="w-full text-small">
      <caption className="caption pb-1 text-left">{caption}</caption>
      <tbody>
        {lines.map(([words, value]) => (
          <tr key={words} className="border-t border-hairline">
            <th scope="row" className="py-1 text-left font-normal">
              {words}
            </th>
            <td className="text-right align-top whitespace-nowrap">{value}</td>
          </tr>
        ))}
        {total && (
          <tr className="border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]">
            <th scope="row" className="py-1 text-left">
              {total[0]}
            </th>
            <td className="text-right">{total[1]}</td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
